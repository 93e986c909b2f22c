"""The photos screen."""
