"""The live screen."""
