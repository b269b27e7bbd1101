import os
import pkgutil
import tempfile
from importlib import import_module

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# Settings and recovery files of the tests stay away from those of the person who runs them.
_HOME = tempfile.mkdtemp(prefix="isometron-tests-")
for _name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
    os.environ[_name] = os.path.join(_HOME, _name)

import isometron  # noqa: E402

# Hypothesis also tries constants of the program's modules that are loaded: all are, so that each run draws the same.
for _module in pkgutil.walk_packages(isometron.__path__, "isometron."):
    if not _module.name.endswith("__main__"):
        import_module(_module.name)

from hypothesis import HealthCheck, settings  # noqa: E402

settings.register_profile(
    "house", deadline=None, derandomize=True, max_examples=45, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("house")
