"""Choosing parts: required ratings by the job a part does, and candidates judged against them."""
