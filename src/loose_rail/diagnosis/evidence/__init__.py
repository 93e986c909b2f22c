"""What was said, seen and found beside the meter, as evidence."""
