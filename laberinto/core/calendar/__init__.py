"""The calendar of a shop: every open plan as jobs, and the best way through the weeks for all of them together."""
