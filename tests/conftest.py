"""For all tests."""

from hypothesis import settings

# How long something takes is for the benchmark to say: a slow machine is not a defect. Where CI is set, Hypothesis tries
# the same examples every time; elsewhere it looks for new ones.
settings.register_profile("untimed", settings.get_profile(settings.get_current_profile_name()), deadline=None)
settings.load_profile("untimed")
