"""The new job screen."""
