"""Guides beside the card: component tests, loads, what is seen and heard, cable ends, waking."""
