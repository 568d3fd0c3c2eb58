"""Settings for all tests: property tests of a size that two cores do in seconds, the same each time and never timed; and
for ``make fuzz`` other examples each time, which are kept where they fail."""

import atexit
import os
import shutil
import tempfile
from pathlib import Path

from hypothesis import HealthCheck, settings
from hypothesis.database import DirectoryBasedExampleDatabase

os.environ["LABERINTO_CHECKS_INDICES"] = "yes"  # before the engine is read

MEMORY = Path("/dev/shm")
ROOM = 2 * 2**30
BEGUN = "laberinto-tests-"


def by_themselves() -> None:
    """The tests' folders lie in one that goes with the run, and what killed processes leave with it. Every save waits
    for the disk until it is safe from a power cut, which they need not be: where there is room it lies in memory."""
    if Path(os.environ.get("TMPDIR", "/tmp")).name.startswith(BEGUN):
        return  # a part of a run
    roomy = MEMORY.is_dir() and shutil.disk_usage(MEMORY).free > ROOM
    made = tempfile.mkdtemp(prefix=BEGUN, dir=MEMORY if roomy else None)
    os.environ["TMPDIR"] = tempfile.tempdir = made
    atexit.register(shutil.rmtree, made, ignore_errors=True)


by_themselves()

settings.register_profile(
    "laberinto", max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow], derandomize=True
)
settings.register_profile(
    "fuzz", settings.get_profile("laberinto"), max_examples=40, derandomize=False, print_blob=True,
    database=DirectoryBasedExampleDatabase(".hypothesis/examples"),
)  # fmt: skip
settings.load_profile(os.environ.get("LABERINTO_EXAMPLES", "laberinto"))
