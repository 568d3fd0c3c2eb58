"""The demo's world: a two-bench shop above a boatyard in a cold fjord-side town."""
