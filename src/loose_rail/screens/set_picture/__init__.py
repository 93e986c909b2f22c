"""The set as it is seen and heard, one key each."""
