"""The shelf screen."""
