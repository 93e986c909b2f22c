"""What each fault would read and show."""
