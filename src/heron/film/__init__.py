"""Scenes in order: a film at one rate, with one timecode."""
