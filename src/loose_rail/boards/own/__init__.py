"""Boards of the technician's own: composed from what is seen and printed, never an example."""
