"""The legend screen."""
