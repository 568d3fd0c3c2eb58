"""Benchmarks. Machines differ and are noisy: read the ratios, not the milliseconds."""
