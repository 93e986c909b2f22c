"""The hand back screen."""
