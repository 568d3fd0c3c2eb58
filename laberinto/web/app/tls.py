"""TLS before the server: connections are opened here and handed on to it on this very machine."""

from __future__ import annotations

import asyncio
import ssl
from pathlib import Path

from laberinto.core.errors import InputError

HANDSHAKE = 10.0
"""Seconds that a visitor has to agree on how to speak."""

_PIECE = 1 << 16

_behind: dict[int, str] = {}
"""From which port connections are handed on, and the address of who opened them."""


def address_of(remote: str, port: object) -> str:
    """The address of who asks: where a connection was handed on, of who opened it."""
    here = remote == "127.0.0.1" and str(port).isdecimal()
    return _behind.get(int(str(port)), remote) if here else remote


def context(certificate: Path, key: Path) -> ssl.SSLContext:
    """What is shown to visitors. Raises InputError where the certificate or its key cannot be used."""
    made = ssl.create_default_context(ssl.Purpose.CLIENT_AUTH)
    try:
        made.load_cert_chain(certificate, key)
    except (OSError, ssl.SSLError) as error:
        raise InputError(
            f"The certificate {certificate} with the key {key} cannot be used: {error}. Both are PEM files, the key "
            "without a passphrase.", "tls-cert",
        ) from None  # fmt: skip
    return made


async def front(host: str, port: int, behind: int, secrets: ssl.SSLContext) -> asyncio.Server:
    """Listen at an address and hand everything on to the port ``behind`` of this machine."""

    async def visit(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            there = await asyncio.open_connection("127.0.0.1", behind)
        except OSError:
            writer.close()
            return
        own, visitor = there[1].get_extra_info("sockname")[1], writer.get_extra_info("peername")[0]
        _behind[own] = visitor
        try:
            await asyncio.gather(_pass(reader, there[1]), _pass(there[0], writer))
        finally:
            del _behind[own]

    return await asyncio.start_server(visit, host, port, ssl=secrets, ssl_handshake_timeout=HANDSHAKE)


async def _pass(source: asyncio.StreamReader, aim: asyncio.StreamWriter) -> None:
    try:
        while piece := await source.read(_PIECE):
            aim.write(piece)
            await aim.drain()
    except (ConnectionError, ssl.SSLError):
        pass  # one of both went away
    finally:
        aim.close()


def serve(host: str, port: int, behind: int, secrets: ssl.SSLContext) -> None:
    """The same until the program ends."""

    async def for_ever() -> None:
        await (await front(host, port, behind, secrets)).serve_forever()

    asyncio.run(for_ever())
