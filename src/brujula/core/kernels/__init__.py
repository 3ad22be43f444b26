"""Numba loops over arrays. Called by name from wrappers in `core`, never passed around.

Inner functions carry a signature, so that each is compiled once, not once per kind of integer given to it:
the first run on a machine compiles in seconds, later ones read the cache.
"""
