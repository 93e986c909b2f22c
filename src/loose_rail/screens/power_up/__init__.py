"""The power up screen."""
