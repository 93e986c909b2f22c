"""Hypotheses, predictions, posterior, next probe and their explanation."""
