"""The card screen."""
