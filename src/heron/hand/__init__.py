"""What a hand did while the stage played: brought on frames, made smooth, and read as a course."""
