"""The engine's tests. Random examples are the same in every run, unless JUGATRIX_WILD is set."""

import os

from hypothesis import settings

settings.register_profile("same", derandomize=True)
settings.register_profile("wild")
settings.load_profile("wild" if os.environ.get("JUGATRIX_WILD") else "same")
