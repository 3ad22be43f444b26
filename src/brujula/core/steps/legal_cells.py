"""Legal forms that points, spaces or several words hide from the table of firms' words, as the countries' registers write them."""

from __future__ import annotations

FORMS = tuple(
    (f"(?i){wording}", meant)
    for wording, meant in (
        (r"\bs\.? ?[àa]\.? ?r\.? ?l\b\.?", "sarl"),  # S.à r.l.
        (r"[\s,]+s\.? ?c\.? ?a\.? ?r\.? ?l\.?$", " scarl"),
        (r"[\s,]+(?:soc\.? ?coop\.?|s\.s\.d\.)(?: (?:a|p)\.? ?r?\.? ?[la]\.?)?$", " coop"),
        (r"[\s,]+srl-d\b\.?|[\s,]+s\.r\.l\.-d\.?", " srl"),
        (r"[\s,]+l\.da\b\.?", " lda"),
        (
            r"[\s,]+c\.? por a\b\.?|[\s,]+c\.a\.$|[\s,]+s\.a\.c\.?$|[\s,]+s\.c\.[amp]\.?$|[\s,]+(?:p\.f\.a|a\.i\.e|a\.s\.d)\.?$|[\s,]+s\.s\.$|[\s,]+p\.s\.a\.?$|[\s,]+i\.i\.$|[\s,]+[îÎ]\.?[iI]\.?$",
            " ltd",
        ),
        (r"[\s,]+(?:a\. ?s|d\. ?d|k\. ?d|d\. ?n\. ?o|z\. ?s|o\. ?p\. ?s|z\. ?[uú]|o\. ?z|n\. ?o|p\. ?p)\.$", " ltd"),
        (r"[\s,]+(?-i:P/[LS]|Tmi|ry|ENK|FIE)$", " ltd"),
        (r"(^|\s)(?-i:IĮ|V[šŠ]Į|MTÜ)(\s|$)", r"\1\2"),
        (
            r"[\s,]+(?:ekonomisk f[öo]rening|ek\.? ?f[öo]r\.?|egy[ée]ni c[ée]g|e\.? ?kf[rm]\.?|limited company by guarantee|company limited by guarantee)$",
            " ltd",
        ),
        (
            r"[\s,]+(?:(?:sanayi|san\.?|ticaret|tic\.?|ve|dış|i[çc]|nakliyat|pazarlama|paz\.?)\s+)*(?:(?:anonim|limited|kolektif|koll?\.?|ltd\.?|a\.?) ?(?:ş|s)(?:irketi|ti\.?|\.)|a\.ş\.?)$",
            " ltd",
        ),
        (
            r"^(?:s\.c\.? (.*\bs\.?a\b\.?)|s\.?c\.? (.*\bs\.?r\.?l\b\.?))$",
            r"\1\2",
        ),  # of Romania; SC Orme SA may be a name's initials
        (r"^oy (.*) ab$", r"\1 oyj"),
        (r"^(?:[ée]tablissements|(?-i:Ets|Éts)|ditta|f\.?h\.?u|p\.?p\.?h\.?u?|p\.?h\.?u)\b\.?\s+(\S{3})", r"\1"),
    )
)
"""What stands for each: a form that the table has, or nothing."""
