"""What is printed on parts: colours, digits and letters, read and written."""
