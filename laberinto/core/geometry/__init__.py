"""Geometry of pieces: what is seen, what touches, where wood is whole, and the shapes of saws and bits."""
