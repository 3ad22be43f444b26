"""64-bit hashes of byte ranges and their mixing: equal content, equal hash, in any order of records."""

from __future__ import annotations

import numpy as np

from brujula.core.kernels.compiled import compiled, inner

_SEED = np.uint64(0xCBF29CE484222325)
_PRIME = np.uint64(0x100000001B3)


@inner("uint64(uint64)")
def mix(h):
    """Finalise a 64-bit hash (the shift-multiply finaliser of Steele et al. 2014)."""
    h = np.uint64(h)
    h ^= h >> np.uint64(30)
    h *= np.uint64(0xBF58476D1CE4E5B9)
    h ^= h >> np.uint64(27)
    h *= np.uint64(0x94D049BB133111EB)
    h ^= h >> np.uint64(31)
    return h


@inner("uint64(uint64, uint64)")
def join(a, b):
    """One key from two; 0 (no key) on either side gives 0."""
    if a == np.uint64(0) or b == np.uint64(0):
        return np.uint64(0)
    h = mix(np.uint64(a) * np.uint64(0x9E3779B97F4A7C15) + np.uint64(b))
    return h if h != np.uint64(0) else np.uint64(1)


@inner("uint64(uint8[::1], int64, int64)")
def hash_range(data, start, end):
    """FNV-1a (Fowler, Noll, Vo) of data[start:end], finalised; never 0 for a non-empty range."""
    if end <= start:
        return np.uint64(0)
    h = _SEED
    for i in range(start, end):
        h = (h ^ np.uint64(data[i])) * _PRIME
    h = mix(h)
    return h if h != np.uint64(0) else np.uint64(1)


@compiled("void(int64[::1], uint8[::1], uint64[::1])")
def hash_texts(offsets, data, out):
    """Hash of each text into out (uint64); 0 for an empty text."""
    for i in range(out.size):
        out[i] = hash_range(data, offsets[i], offsets[i + 1])


@compiled("void(uint64[::1], uint64[::1], uint64[::1])")
def join_keys(a, b, out):
    """Element-wise `join` of two key arrays into out."""
    for i in range(out.size):
        out[i] = join(a[i], b[i])
