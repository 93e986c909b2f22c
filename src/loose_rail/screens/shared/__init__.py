"""What several screens share."""
