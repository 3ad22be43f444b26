"""Headings that stand in two rows."""

import openpyxl
import pandas as pd
import pytest

import brujula
from brujula.intake.read import read_list
from brujula.intake.two_rows import joined

ROWS = [["Ada", "Quist", "ada@quist.example", "12 Mill Street", "Orme"], ["Bo", "Lind", "", "7 Oak Road", "Yarrow"]]


@pytest.mark.parametrize(
    ("top", "bottom", "wanted"),
    [
        (["Name", "", "E-mail", "Address", ""], ["First", "Last", "", "Street", "Town"], ["First", "Last", "E-mail", "Street", "Town"]),
        (["First", "Last", "E-mail", "", ""], ["name", "name", "address", "Street", "Town"], ["First name", "Last name", "E-mail address", "Street", "Town"]),
        (["Name", "Home", "", "Work", ""], ["", "Street", "Phone", "Street", "Phone"], ["Name", "Home Street", "Home Phone", "Work Street", "Work Phone"]),
        (["Name", "Address"], ["", "Street", "Town"], ["Name", "Street", "Town"]),
        (["Contact", "", "Firm", ""], ["First", "Last", "Name", "Town"], ["First", "Last", "Name", "Town"]),
        (["Teacher", "Teacher", "School", "School"], ["First", "Last", "Name", "Town"], ["First", "Last", "Name", "Town"]),
        (["Name", "Phone", "", "Town"], ["First name", "Mobile", "E-mail", "City"], None),
        (["Roster of the workshops"], ["Name", "E-mail", "Phone"], None),
        (["Name", "E-mail", "Phone"], ["Ada Quist", "ada@quist.example", "212-555-0101"], None),
        (["Name", "Title", ""], ["Ada Quist", "Director", "Yarrow"], None),
        (["Name", "E-mail"], ["Surname", "Mail"], None),
    ],
)  # fmt: skip
def test_two_rows_are_one_where_both_are_headings(top, bottom, wanted):
    """A group's heading gives way to its columns', but where another group has such a column; a title and a row of values are no headings."""
    assert joined(top, bottom) == wanted


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_a_list_with_headings_in_two_rows(tmp_path, kind):
    """No column is left out, rows keep their places in the file, and a policy that names the row has its way."""
    top, bottom = ["Name", "", "E-mail", "Address", ""], ["First", "Last", "", "Street", "Town"]
    path = tmp_path / f"list.{kind}"
    if kind == "csv":
        path.write_text("\n".join(",".join(row) for row in [top, bottom, *ROWS]) + "\n")
    else:
        book = openpyxl.Workbook()
        for row in [top, bottom, *ROWS]:
            book.active.append(row)
        book.active.merge_cells("D1:E1")
        book.save(path)
    found = read_list(path)
    assert found.table.to_pandas().values.tolist() == ROWS and found.place_of(2).endswith(" 4")
    assert any("headings in two" in note for note in found.notes)
    old = pd.DataFrame([["X-1", *ROWS[0]]], columns=["id", "given_name", "family_name", "email", "street", "city"])
    assert brujula.plan(path, against=old, entity="contact").outcomes["outcome"].tolist() == ["unchanged", "create"]
    assert read_list(path, brujula.policy.model.ListPolicy(header_row=2)).table.column_names[:2] == bottom[:2]
