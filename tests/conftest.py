"""Settings for all tests: property tests of a size that two cores do in seconds, and never timed."""

from hypothesis import HealthCheck, settings

settings.register_profile(
    "laberinto", max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow], derandomize=True
)
settings.load_profile("laberinto")
