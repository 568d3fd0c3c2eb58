"""``python -m laberinto``."""

from .cli import main

main()
