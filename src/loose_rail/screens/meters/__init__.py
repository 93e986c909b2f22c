"""The meters screen."""
