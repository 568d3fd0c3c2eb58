"""Laberinto: design, plan and build end-grain cutting boards."""

__version__ = "0.1.0"

import os

# Cells are many small products: threads inside one of them cost more than they gain, and waitress has its own.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
