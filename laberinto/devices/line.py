"""Measuring devices over a line: what is said on it, and how a reading is taken; see docs/devices.md."""

from __future__ import annotations

import re
import socket
import statistics
from dataclasses import dataclass
from typing import TextIO

from laberinto.core.errors import InputError

HELLO = "laberinto-devices 1"
"""What a device line says first."""

PATIENCE = 1.5
"""Seconds that an answer may take."""

TIMES = 3
"""So often a device is asked: one reading alone cannot tell that it jumps."""

_READING = re.compile(r"(?P<device>[a-z-]+) (?P<value>[+-]?\d{1,7}(?:\.\d{1,6})?) ?(?P<unit>[^\s\d]{0,4})")

UNITS: dict[str, dict[str, float]] = {
    "mm": {"mm": 1.0, "cm": 10.0, "in": 25.4, "um": 0.001, "µm": 0.001},
    "°": {"°": 1.0, "deg": 1.0},
    "%": {"%": 1.0, "%RH": 1.0},
    "kg": {"kg": 1.0, "g": 0.001, "lb": 0.45359237},
}
"""How much of its own unit a quantity has in each unit that a device may send."""


@dataclass(frozen=True, slots=True)
class Device:
    """A kind of instrument: its name on the line, what a person calls it, in which unit its readings count, and how far
    readings of one thing may lie apart before they are said to jump."""

    name: str
    label: str
    unit: str
    steady: float


DEVICES = {
    device.name: device
    for device in (
        Device("caliper", "caliper", "mm", 0.3),
        Device("thickness-gauge", "thickness gauge", "mm", 0.3),
        Device("angle-gauge", "angle gauge", "°", 0.5),
        Device("moisture-meter", "moisture meter", "%", 2.0),
        Device("hygrometer", "hygrometer", "%", 5.0),
        Device("scale", "scale", "kg", 0.02),
    )
}
"""Every kind by its name. A new one is a line here, and one in the simulated bench."""


class DeviceError(InputError):
    """A device said nothing that can be used; typing by hand always can."""

    def __init__(self, message: str) -> None:
        super().__init__(f"{message} Read again, or type it by hand.", "measured")


OF_ITS_OWN = {"to": "thickness-gauge", "thickness": "thickness-gauge", "humidity": "hygrometer"}
"""Quantities that another device than the usual one of their unit measures."""


def device_for(unit: str, key: str = "") -> Device | None:
    """What measures a quantity of this unit; None where nothing does."""
    if key in OF_ITS_OWN:
        return DEVICES[OF_ITS_OWN[key]]
    return next((device for device in DEVICES.values() if device.unit == unit), None)


def read(device: Device, text: str) -> float:
    """A line as a value in the device's unit. Raises DeviceError for anything else than one of its readings."""
    found = _READING.fullmatch(text.strip())
    if found is None or found["device"] != device.name:
        raise DeviceError(f"The {device.label} sent “{text.strip()[:40]}”, which is no reading.")
    factor = UNITS[device.unit].get(found["unit"] or device.unit)
    if factor is None:
        raise DeviceError(f"The {device.label} sent a reading in “{found['unit']}”, not in {device.unit}.")
    return float(found["value"]) * factor


def take(address: tuple[str, int], device: Device, under: str = "") -> float:
    """A reading of what lies under a device, in its unit: asked for a few times, the middle one counts. ``under`` tells
    simulated devices what that is. Raises DeviceError where it is silent, talks nonsense, jumps or drops the line."""
    try:
        with socket.create_connection(address, PATIENCE) as line, line.makefile("rw", encoding="utf-8") as talk:
            line.settimeout(PATIENCE)
            if _answer(talk, "") != HELLO:
                raise DeviceError(f"What answers at {address[0]}:{address[1]} is no line of devices.")
            if under:
                _answer(talk, f"under {under}")
            readings = [read(device, _answer(talk, f"read {device.name}")) for _ in range(TIMES)]
    except TimeoutError:
        raise DeviceError(f"The {device.label} is silent.") from None
    except ConnectionRefusedError:
        raise DeviceError(f"Nothing listens at {address[0]}:{address[1]}: the devices are not connected.") from None
    except (OSError, UnicodeDecodeError, EOFError):
        raise DeviceError(f"The line to the {device.label} dropped.") from None
    if max(readings) - min(readings) > device.steady:
        raise DeviceError(
            f"The {device.label} jumps between {min(readings):g} and {max(readings):g} {device.unit}: hold it still."
        )
    return statistics.median(readings)


def _answer(talk: TextIO, said: str) -> str:
    """One line for one line."""
    if said:
        talk.write(said + "\n")
        talk.flush()
    line = talk.readline(200)
    if not line.endswith("\n"):
        raise EOFError
    return line.rstrip("\n")
