"""What serves all screens: how things are shown and read, jobs, bitmaps, errors, security."""
