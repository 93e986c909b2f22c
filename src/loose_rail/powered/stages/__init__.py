"""One module for each kind of stage."""
