"""What a powered board does in time."""
