"""Timings, as ratios of two things in one run. `python -m benchmarks` runs them all."""
