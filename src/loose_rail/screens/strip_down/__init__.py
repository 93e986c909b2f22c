"""The strip down screen."""
