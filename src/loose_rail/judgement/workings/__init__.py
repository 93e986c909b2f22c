"""Workings: the arithmetic of the bench as small calculators on the core's own formulas."""
