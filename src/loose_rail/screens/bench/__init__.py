"""The bench screen."""
