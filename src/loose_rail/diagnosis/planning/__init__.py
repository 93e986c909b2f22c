"""What to read next, and when to stop."""
