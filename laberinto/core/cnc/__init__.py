"""CNC: paths from a board's own stages, as plain G-code, and a machine that carves a height map by it."""
