"""Words people type when they have nothing to say: they count as blank and never make two records alike."""

PLACEHOLDERS = frozenset(
    x.strip()
    for x in """n/a|na|n.a.|n.a|none|null|nil|nan|unknown|unk|tbd|tba|tbc|-|--|---|.|..|...|?|??|???|x|xx|xxx|xxxx|test|testing
dummy|not available|not applicable|no data|nodata|missing|blank|empty|undefined|#n/a|#null!|#value!|#ref!|(none)|(blank)|[none]|keine|kein|unbekannt
sin datos|no aplica|desconocido|ninguno|ninguna|inconnu|aucun|aucune|non renseigne|non renseigné|desconhecido|nenhum|sconosciuto|nessuno|onbekend|geen
nieznany|brak|see notes|to follow|pending|asdf|qwerty|0|00|000|0000|00000|000000|1234|12345|123456|99999|999999|k.a.|k. a.|not provided
not given|not known|no name|noname|anonymous|to be determined|to be confirmed|delete|delete me|do not use|temp""".replace(
        "\n", "|"
    ).split("|")
)

# Written out, for the class of all letters takes milliseconds to compile: marks and symbols of ASCII, Latin-1 and punctuation.
_MARKS = r"\x00-/:-@\[-`{-\x{BF}\x{D7}\x{F7}\x{2000}-\x{206F}\x{2190}-\x{2BFF}\x{3000}-\x{303F}\x{FFFD}"
NO_LETTER = rf"^[0-9{_MARKS}]*$"
"""Pattern of a text without any letter."""
NOTHING = rf"^[{_MARKS}]*$"
"""Pattern of a text without any letter or digit."""
