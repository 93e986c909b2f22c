"""The rail map screen."""
