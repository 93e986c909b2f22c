"""The guides screen."""
