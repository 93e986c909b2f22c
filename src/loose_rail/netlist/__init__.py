"""SPICE netlists: read, written, solved."""
