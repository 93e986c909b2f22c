"""One stand-in for each port."""
