"""Instruments on their line: what they read, and what is said when one is silent, talks nonsense, jumps or drops off."""

from __future__ import annotations

import socket
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Thread

import pytest

from laberinto.devices import line
from laberinto.devices.bench import LOOPBACK, Instruments, Server
from laberinto.devices.line import DEVICES, DeviceError, device_for, read, take

CALIPER = DEVICES["caliper"]


@contextmanager
def speaking(fault: str = "", value: float | None = 30.4) -> Iterator[tuple[str, int]]:
    """Instruments under which one thing lies."""
    server = Server(0, Instruments(lambda _device, under: value if under else None, 5, fault))
    thread = Thread(target=server.serve_forever, kwargs={"poll_interval": 0.01}, daemon=True)
    thread.start()
    try:
        yield server.server_address  # type: ignore[misc]
    finally:
        server.shutdown()
        server.server_close()


def test_a_reading_is_what_lies_there_within_the_instruments_error() -> None:
    """A caliper is off by 0.02 (one standard deviation) and shows hundredths."""
    with speaking() as address:
        assert address[0] == LOOPBACK
        found = take(address, CALIPER, "board=1 step=panel.glue quantity=to")
        assert found == pytest.approx(30.4, abs=0.1) and round(found, 2) == found


@pytest.mark.parametrize(
    ("fault", "says"),
    [("nonsense", "which is no reading"), ("jump", "jumps between"), ("drop", "dropped"), ("silent", "is silent")],
)
def test_what_is_wrong_is_said_and_typing_stays(fault: str, says: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(line, "PATIENCE", 0.3)
    with speaking(fault) as address, pytest.raises(DeviceError, match=says) as told:
        take(address, CALIPER, "board=1 step=panel.glue quantity=to")
    assert "type it by hand" in str(told.value)


def test_nothing_there_nothing_under_it_and_somebody_else() -> None:
    with socket.create_server((LOOPBACK, 0)) as other:
        port = other.getsockname()[1]
    with pytest.raises(DeviceError, match="not connected"):
        take((LOOPBACK, port), CALIPER, "board=1")
    with speaking(value=None) as address, pytest.raises(DeviceError, match="nothing under it"):
        take(address, CALIPER, "board=1")
    with socket.create_server((LOOPBACK, 0)) as other:

        def greet() -> None:
            with other.accept()[0] as one:
                one.sendall(b"220 mail\n")

        Thread(target=greet, daemon=True).start()
        with pytest.raises(DeviceError, match="no line of devices"):
            take(other.getsockname(), CALIPER)  # fmt: skip


@pytest.mark.parametrize(
    ("device", "text", "value"),
    [
        ("caliper", "caliper +30.41 mm", 30.41), ("caliper", "caliper 1.2 in", 30.48), ("caliper", "caliper -0.05mm", -0.05),
        ("scale", "scale +1612 g", 1.612), ("angle-gauge", "angle-gauge +89.8 °", 89.8),
        ("hygrometer", "hygrometer 48 %RH", 48), ("moisture-meter", "moisture-meter +10.4", 10.4),
    ],
)  # fmt: skip
def test_units_are_taken_care_of(device: str, text: str, value: float) -> None:
    assert read(DEVICES[device], text) == pytest.approx(value)


@pytest.mark.parametrize(
    "text", ["", "caliper", "caliper 30.4 kg", "scale 30.4", "caliper 1e9 mm", "caliper 3,4 mm", "x" * 500]
)
def test_what_is_no_reading_of_it_is_refused(text: str) -> None:
    with pytest.raises(DeviceError):
        read(CALIPER, text)


def test_every_unit_that_can_be_measured_has_its_instrument() -> None:
    assert {unit: device_for(unit).name for unit in ("mm", "°", "%", "kg")} == {  # type: ignore[union-attr]
        "mm": "caliper", "°": "angle-gauge", "%": "moisture-meter", "kg": "scale",
    }  # fmt: skip
    assert device_for("mm", "to").name == "thickness-gauge" and device_for("") is None  # type: ignore[union-attr]
