"""Cells of a sheet or a web page that are merged over several rows."""

from __future__ import annotations

from collections.abc import Sequence

Cell = tuple[int, int]
"""Row and column, from 0."""


def filled_down(rows: list[list[str]], names: list[str], first: int, merged: Sequence[tuple[Cell, Cell]]) -> list[str]:
    """Cells merged over several rows say the same of each: of those that have a cell of their own. A note says which.

    Where names or mail addresses are, the rows are one person's, who is not to become several.
    merged : first and last row and column of each, from 0
    """
    inside = ((top, min(bottom, len(rows) - 1), column) for (top, column), (bottom, _) in merged if column < len(names))
    tall = [(top, bottom, column) for top, bottom, column in inside if first <= top < bottom]
    if not tall:
        return []
    # What headings mean is asked for here only: it takes the compiler along.
    from brujula.intake.meanings import of_a_name

    if any("@" in rows[top][column] or of_a_name(names[column]) for top, _, column in tall):
        return []
    filled = set()
    for top, bottom, column in tall:
        for at in range(top + 1, bottom + 1) if rows[top][column].strip() else ():
            if any(cell.strip() for cell in rows[at]):
                rows[at][column] = rows[top][column]
                filled.add((at, column))
    below, columns = {at for at, _ in filled}, sorted({column for _, column in filled})
    said = ", ".join(f'"{names[column]}"' for column in columns)
    return [f"{said} in cells merged over several rows: said of the {len(below):,} rows below as well"] if filled else []
