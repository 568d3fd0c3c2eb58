"""The network that this machine is in: by which names and addresses others find it."""

from __future__ import annotations

import socket
from contextlib import suppress

LOOPBACK = ("127.0.0.1", "::1", "localhost")
"""Listened at, these are reached from this machine alone."""

_ELSEWHERE = ("10.255.255.255", 9)
"""An address of any local network: nothing is sent to it."""


def own_addresses() -> list[str]:
    """IPv4 addresses of this machine in its network, the one that others most likely reach first."""
    found = []
    with suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        probe.connect(_ELSEWHERE)  # a datagram's socket only chooses by which address it would go
        found.append(str(probe.getsockname()[0]))
    with suppress(OSError):
        found += [str(each[4][0]) for each in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)]
    return [address for address in dict.fromkeys(found) if not address.startswith("127.")]


def own_names() -> list[str]:
    """Names that this machine goes by in its network."""
    name = socket.gethostname().lower()
    return [name, f"{name}.local"] if name and name != "localhost" else []
