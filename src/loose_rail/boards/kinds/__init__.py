"""Kinds of components, one module each: what a part is called, how it conducts, how it is read, how
it fails, how it is tested by hand. A new kind is a module here and a line in `registry`."""
