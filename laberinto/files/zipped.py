"""Reading a zip that came from elsewhere: nothing is unpacked to disk, and nothing is read that is not expected."""

from __future__ import annotations

import re
import zipfile
import zlib
from io import BytesIO

from laberinto.core.errors import InputError

MOST_FILES = 4000
"""In one zip."""

MOST_BYTES = 400_000_000
"""Of all its files once they are unpacked."""

CUT_OFF = "it was cut off on the way, or is no zip. Fetch it anew."


def unpacked(data: bytes, names: re.Pattern[str], what: str) -> dict[str, bytes]:
    """All files of a zip by their names, which must all be among ``names``. Raises InputError, in words about
    ``what``, for a zip that is damaged, larger than it should be, locked, or holds something else."""
    try:
        archive = zipfile.ZipFile(BytesIO(data))
        entries = archive.infolist()
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError):
        raise InputError(f"That {what} cannot be opened: {CUT_OFF}", "file") from None
    if len(entries) > MOST_FILES:
        raise InputError(f"That {what} holds {len(entries)} files; at most {MOST_FILES} are read.", "file")
    if (size := sum(entry.file_size for entry in entries)) > MOST_BYTES:
        raise InputError(
            f"That {what} would unpack to {size // 1_000_000} MB; at most {MOST_BYTES // 1_000_000} are read.", "file"
        )
    found: dict[str, bytes] = {}
    for entry in entries:
        if entry.is_dir():
            continue
        if not names.fullmatch(entry.filename):
            raise InputError(
                f"That {what} holds “{entry.filename[:60]}”, which belongs in none. Nothing was taken.", "file"
            )
        if entry.flag_bits & 1 or entry.filename in found:
            raise InputError(f"“{entry.filename}” in that {what} is locked, or there twice. Nothing was taken.", "file")
        found[entry.filename] = _read(archive, entry, what)
    return found


def _read(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, what: str) -> bytes:
    try:
        with archive.open(entry) as file:
            content = file.read(entry.file_size + 1)  # what it says is what it may be
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, ValueError, NotImplementedError, RuntimeError):
        raise InputError(f"“{entry.filename}” in that {what} is damaged: {CUT_OFF}", "file") from None
    if len(content) != entry.file_size:
        raise InputError(f"“{entry.filename}” in that {what} is larger than it says. Nothing was taken.", "file")
    return content
