"""What stands on the stage: set pieces, figures and what they do, movers."""
