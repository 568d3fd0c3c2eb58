"""Pictures of what was simulated: SVG, and bitmaps of wood. Pure functions; nothing is computed about wood."""
