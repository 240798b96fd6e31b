"""Open formats, one module each."""
