"""Bench meters over SCPI, reached through PyVISA."""
