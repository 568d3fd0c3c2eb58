"""Laberinto: design, plan and build end-grain cutting boards."""

__version__ = "0.1.0"
