"""The made-up data of Second Reed, its generator, and the tour."""
