"""Films: scenes in order, at one rate."""
