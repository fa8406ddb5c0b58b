"""One athlete through time."""
