"""The trade, computed: woods, solids, turns, plans and what follows from them.

Nothing here knows of a web page, a database, a picture or the clock. Lengths are float
millimetres, angles degrees and masses kilograms, unless a name says otherwise.
"""
