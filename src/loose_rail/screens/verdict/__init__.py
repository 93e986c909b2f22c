"""The verdict screen."""
