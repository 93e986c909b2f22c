"""Board profiles: sections, rails, connectors, probe points, fault modes; all of it data."""
