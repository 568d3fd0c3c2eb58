"""Settings for all tests: property tests of a size that two cores do in seconds, the same each time and never timed; and
for ``make fuzz`` other examples each time, which are kept where they fail."""

import logging
import os
import shutil
import tempfile
from collections.abc import Iterator
from multiprocessing.util import Finalize
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from hypothesis.database import DirectoryBasedExampleDatabase

from tests.split import begin, join

os.environ["LABERINTO_CHECKS_INDICES"] = "yes"  # before the engine is read

MEMORY = Path("/dev/shm")
ROOM = 2 * 2**30
BEGUN = "laberinto-tests-"
LAST = -1000
"""After what multiprocessing has in there was taken away."""


def by_themselves() -> None:
    """The tests' folders lie in one that goes with the run, and what killed processes leave with it. Every save waits
    for the disk until it is safe from a power cut, which they need not be: where there is room it lies in memory."""
    if Path(os.environ.get("TMPDIR", "/tmp")).name.startswith(BEGUN):
        return  # a part of a run
    roomy = MEMORY.is_dir() and shutil.disk_usage(MEMORY).free > ROOM
    made = tempfile.mkdtemp(prefix=BEGUN, dir=MEMORY if roomy else None)
    os.environ["TMPDIR"] = tempfile.tempdir = made
    Finalize(None, shutil.rmtree, (made,), {"ignore_errors": True}, exitpriority=LAST)


by_themselves()


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node: Any) -> None:
    node.workerinput["split"] = begin()


def pytest_configure(config: pytest.Config) -> None:
    if hasattr(config, "workerinput"):
        join(config.workerinput["split"])


@pytest.fixture
def own_log() -> Iterator[None]:
    """For a test that sets up the log of a folder of its own: nobody else writes there afterwards."""
    root, ours = logging.getLogger(), logging.getLogger("laberinto")
    handlers, *levels = root.handlers[:], root.level, ours.level
    yield
    for handler in root.handlers:
        if handler not in handlers:
            handler.close()
    root.handlers[:] = handlers
    for logger, level in zip((root, ours), levels, strict=True):
        logger.setLevel(level)


settings.register_profile(
    "laberinto", max_examples=20, deadline=None, suppress_health_check=[HealthCheck.too_slow], derandomize=True
)
settings.register_profile(
    "fuzz", settings.get_profile("laberinto"), max_examples=40, derandomize=False, print_blob=True,
    database=DirectoryBasedExampleDatabase(".hypothesis/examples"),
)  # fmt: skip
settings.load_profile(os.environ.get("LABERINTO_EXAMPLES", "laberinto"))
