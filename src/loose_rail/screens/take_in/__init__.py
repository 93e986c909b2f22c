"""The take in screen."""
