"""What all tests share: no property test has a limit of time, since machines differ."""

from hypothesis import settings

settings.register_profile("cohortia", deadline=None)
settings.load_profile("cohortia")
