"""Open formats in and out: the report of a simulation, and the schemas of plans and reports."""
