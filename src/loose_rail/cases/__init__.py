"""Job files from anywhere: read loosely, diagnosed, answered in words and JSON."""
