import os
import tempfile

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
# Settings and recovery files of the tests stay away from those of the person who runs them.
_HOME = tempfile.mkdtemp(prefix="isometron-tests-")
for _name in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
    os.environ[_name] = os.path.join(_HOME, _name)

from hypothesis import HealthCheck, settings  # noqa: E402

settings.register_profile(
    "house", deadline=None, derandomize=True, max_examples=60, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("house")
