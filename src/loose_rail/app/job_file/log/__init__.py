"""A job told in order (`loose-rail/case/2`): what was said, seen, read and done."""
