"""Tests mirror the packages. What they ask hypothesis for does not depend on how busy the machine is."""

from hypothesis import HealthCheck, settings

settings.register_profile("suite", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("suite")
