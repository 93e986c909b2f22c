"""The simulated bench: a board with a hidden fault, and a meter that speaks SCPI about it."""
