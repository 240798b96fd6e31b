"""How a move looks in motion: what the audience sees of it, where it hitches, and the smallest mend."""
