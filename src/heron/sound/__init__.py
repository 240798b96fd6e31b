"""Sound: files read, clips placed along the cut, mixed and measured."""
