"""Bands, verdicts on single readings, safety preconditions, levels of proof."""
