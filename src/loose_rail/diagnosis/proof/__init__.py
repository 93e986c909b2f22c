"""What shows that a repair works: the plan of its readings, and how it stands."""
