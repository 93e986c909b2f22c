"""The look over screen."""
