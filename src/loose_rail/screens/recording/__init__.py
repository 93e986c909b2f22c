"""The recording screen."""
