"""What a powered board does: mains, limiter, converters, protection, loads, behaviour in time."""
