"""The job screen."""
