"""For all tests."""

from hypothesis import settings

# How long something takes is for the benchmark to say: a slow machine is no defect.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
