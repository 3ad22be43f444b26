"""Where on the map a place is, in degrees: how far two are from each other."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from brujula.core.batch import Batch, Column, Keys, Texts
from brujula.core.kind import Compared, Comparison, Example, Identity, Kind, Level, Who
from brujula.core.steps import joining
from brujula.core.steps.patterns import captured, replaced
from brujula.core.steps.placeholders import NOTHING, PLACEHOLDERS
from brujula.core.steps.sharing import Counts, shares
from brujula.core.steps.text import join_keys, without

_NUMBER = r"-?\d{1,3}(?:\.\d+)?"
_ONE = rf"^(?P<a>{_NUMBER})$"
_TWO = rf"^(?:\(|\[|(?P<point>point\s*\())?\s*(?P<a>{_NUMBER})(?:\s*[,;]\s*|\s+)(?P<b>{_NUMBER})\s*[)\]]?$"
_METRES = 111_195.0  # a degree of latitude
_SAME, _CLOSE, _NEARBY, _OFF = 100.0, 500.0, 3_000.0, 30_000.0  # metres
_CELL = 2 * _CLOSE / _METRES  # degrees


class Points(NamedTuple):
    """Points of n records in degrees, NaN where blank; the four squares each lies in, of four grids (0 = none): two less than 500 m apart lie in one
    of some grid; and the share of all records that lie in the square of the first."""

    latitude: NDArray[np.float64]
    longitude: NDArray[np.float64]
    squares: Keys
    shares: NDArray[np.float32]


def degrees(texts: Texts) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The number each text is, or the two (latitude, longitude) where one cell holds a point, `POINT(longitude latitude)` too; NaN where there is none."""
    plain = replaced(pc.utf8_lower(texts.arrow()), r"^\s+|\s+$|°", "")
    alone = replaced(plain, r"^(-?\d{1,3}),(\d+)$", r"\1.\2")
    one, two = captured(alone, _ONE), captured(plain, _TWO)
    first, a, b = (_numbers(pc.struct_field(found, part)) for found, part in ((one, "a"), (two, "a"), (two, "b")))
    swapped = pc.fill_null(pc.not_equal(pc.struct_field(two, "point"), ""), False).to_numpy(zero_copy_only=False)
    both = ~np.isnan(a) & np.isnan(first)
    return np.where(both, np.where(swapped, b, a), first), np.where(both, np.where(swapped, a, b), np.nan)


def _numbers(found: pa.Array) -> NDArray[np.float64]:
    told = pc.if_else(pc.equal(pc.fill_null(found, ""), ""), "nan", pc.fill_null(found, "nan"))
    return np.asarray(pc.cast(told, pa.float64()).to_numpy(zero_copy_only=False))


class Coordinates(Kind):
    """Points less than 100 m apart are the same; whole degrees, and the point where both are 0, say nothing."""

    name = "coordinates"
    alone = "square"
    parts = ("latitude", "longitude")
    headings = {
        "latitude": """latitude | lat | geo lat | latitude deg | latitude degrees | gps latitude | decimal latitude | location lat | breitengrad | latitud | latitudine | szerokosc geograficzna
            | breedtegraad | coordinates | geo point | geopoint | geolocation | lat lng | lat lon | lat long | latlng | latlong | latitude longitude | gps | gps coordinates | coordenadas | coordonnees | koordinaten""",
        "longitude": """longitude | lon | lng | long | geo lon | geo lng | geo long | longitude deg | longitude degrees | gps longitude | decimal longitude | location lng | location lon | langengrad
            | laengengrad | longitud | longitudine | dlugosc geograficzna | lengtegraad""",
    }
    comparisons = (
        Comparison(
            "coordinates",
            (
                Level("far apart", "differs", 0.03, 0.975),
                Level("some way off", "differs", 0.03, 0.02),
                Level("nearby", "partial", 0.10, 0.004),
                Level("close by", "close", 0.14, 0.0006, rare=True),
                Level("the same point", "same", 0.70, 0.0003, rare=True),
            ),
        ),
    )
    examples = (
        Example(
            {"latitude": "51.50135", "longitude": "-0.14189"},
            {"latitude": "51.5013", "longitude": "-0.1419"},
            {"coordinates": "same"},
        ),
        Example({"latitude": "51,50135", "longitude": "-0,14189"}, {"latitude": "51.50135, -0.14189"}, {"coordinates": "same"}),
        Example({"latitude": "POINT(-0.14189 51.50135)"}, {"latitude": "(51.50135 -0.14189)"}, {"coordinates": "same"}),
        Example(
            {"latitude": "51.5013", "longitude": "-0.1419"},
            {"latitude": "51.5033", "longitude": "-0.1443"},
            {"coordinates": "close"},
        ),
        Example(
            {"latitude": "51.5013", "longitude": "179.9999"},
            {"latitude": "51.5013", "longitude": "-179.9999"},
            {"coordinates": "same"},
        ),
        Example(
            {"latitude": "51.5013", "longitude": "-0.1419"},
            {"latitude": "51.5150", "longitude": "-0.1419"},
            {"coordinates": "partial"},
        ),
        Example(
            {"latitude": "51.5013", "longitude": "-0.1419"},
            {"latitude": "51.6013", "longitude": "-0.1419"},
            {"coordinates": "differs"},
        ),
        Example({"latitude": "0.0", "longitude": "0.0"}, {"latitude": "0.0", "longitude": "0.0"}, {"coordinates": "blank"}),
        Example({"latitude": "51", "longitude": "7"}, {"latitude": "51", "longitude": "7"}, {"coordinates": "blank"}),
        Example({"latitude": "151.2", "longitude": "7.1"}, {"latitude": "151.2", "longitude": "7.1"}, {"coordinates": "blank"}),
    )

    def clean(self, column: Column) -> Column:
        """Placeholders are blank."""
        return without(column, PLACEHOLDERS, NOTHING)

    def standardise(self, batch: Batch, identity: Identity) -> Points:
        """Points, and the squares they lie in."""
        column, other = batch.column("latitude"), batch.column("longitude")
        (latitude, beside), (longitude, _) = degrees(column.values), degrees(other.values)
        latitude, beside, longitude = (
            np.append(values, np.nan)[codes]
            for values, codes in ((latitude, column.codes), (beside, column.codes), (longitude, other.codes))
        )
        longitude = np.where(np.isnan(beside), longitude, beside)
        coarse = (latitude == np.rint(latitude)) & (longitude == np.rint(longitude))
        out = np.isnan(latitude) | np.isnan(longitude) | coarse | (np.abs(latitude) > 90) | (np.abs(longitude) > 180)
        latitude, longitude = np.where(out, np.nan, latitude), np.where(out, np.nan, longitude)
        squares = _squares(latitude, longitude)
        return Points(latitude, longitude, squares, shares(squares[0], batch.counting))

    def joined(self, held: Points, records: NDArray[np.int32], asked: Points, who: Who) -> Points:
        """Points of some of the records held, and of others behind them."""
        squares = np.concatenate([held.squares[:, records], asked.squares], axis=1)
        return joining.of_records(held, records, asked, squares=squares)

    def counts(self, standard: Points) -> Counts:
        """Share of each square."""
        return Counts(standard.squares[0], standard.shares)

    def settle(self, standard: Points, counts: Counts) -> Points:
        """Squares as common as among all records."""
        common = np.maximum(counts.of(standard.squares[0], 0), standard.shares)
        return standard._replace(shares=common.astype(np.float32))

    def keys(self, standard: Points) -> dict[str, Keys]:
        """`square`, of each of the four grids."""
        return {"square": standard.squares}

    def compare(self, standard: Points, left: Any, right: Any) -> dict[str, Compared]:
        """One comparison, coordinates."""
        metres = _apart(*(values.take(side) for side in (left, right) for values in (standard.latitude, standard.longitude)))
        out = (4 - np.searchsorted([_SAME, _CLOSE, _NEARBY, _OFF], metres)).astype(np.int8)
        out[np.isnan(metres)] = -1
        common = np.maximum(standard.shares.take(left), standard.shares.take(right))
        return {"coordinates": Compared(out, np.where(out >= 3, common, 0).astype(np.float32))}


def _squares(latitude: NDArray[np.float64], longitude: NDArray[np.float64]) -> Keys:
    """uint64[4, n]: the square of each point in four grids, each half a square from the others; 0 = none. Squares of a latitude are as wide as they are high."""
    out = np.zeros((4, len(latitude)), np.uint64)
    some = np.flatnonzero(~np.isnan(latitude))
    for grid in range(4):
        row = np.floor(latitude[some] / _CELL + 0.5 * (grid & 1))
        width = _CELL / np.maximum(np.cos(np.radians(row * _CELL)), 0.01)
        column = np.floor(longitude[some] / width + 0.5 * (grid >> 1))
        bands = (row + 1e6).astype(np.uint64), (column + 1e6).astype(np.uint64), np.full(len(some), grid + 1, np.uint64)
        out[grid, some] = join_keys(*bands)
    return out


def _apart(
    latitude: NDArray[np.float64],
    longitude: NDArray[np.float64],
    other_latitude: NDArray[np.float64],
    other_longitude: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Metres between points of a sphere (haversine); NaN where one is blank."""
    a, b = np.radians(latitude), np.radians(other_latitude)
    half = np.sin((a - b) / 2) ** 2 + np.cos(a) * np.cos(b) * np.sin(np.radians(longitude - other_longitude) / 2) ** 2
    return np.asarray(2 * np.degrees(np.arcsin(np.sqrt(np.clip(half, 0, 1)))) * _METRES)
