"""Closed-loop benchmark of the diagnosis: simulated sets worked through by several rules."""
