"""Units of the trade as they are typed: prefixes by their case (m is milli, M mega), names whatever theirs."""

PREFIX = {"": 1.0, "u": 1e-6, "m": 1e-3, "k": 1e3, "K": 1e3, "M": 1e6}
"""What a prefix multiplies by. The case decides: 2 mΩ is a joint, 2 MΩ an insulation."""
NAMES = {"v": "V", "volt": "V", "volts": "V", "a": "A", "amp": "A", "amps": "A", "ω": "Ω", "ohm": "Ω", "ohms": "Ω", "r": "Ω", "ah": "Ah"}
"""Names of units in small letters, with the symbol each stands for."""
WHOLE = {"megohm": ("Ω", 1e6), "k": ("Ω", 1e3), "K": ("Ω", 1e3), "M": ("Ω", 1e6)}
"""What stands for a unit with its prefix; a bare k or M is ohms, as meters show them."""
SAME = str.maketrans({"\u2126": "Ω", "µ": "u", "μ": "u"})
"""Signs that look alike: the ohm sign U+2126 is the letter Omega, both micro signs are u."""


def unit_of(typed: str) -> tuple[str, float] | None:
    """The symbol and the factor to it of a unit as typed, such as ("V", 0.001) of mV; None where it is none known here."""
    said = typed.translate(SAME)
    if said in WHOLE:
        return WHOLE[said]
    if said.casefold() == "megohm":
        return WHOLE["megohm"]
    if said.casefold() in NAMES:
        return NAMES[said.casefold()], 1.0
    prefix, name = said[:1], NAMES.get(said[1:].casefold())
    return (name, PREFIX[prefix]) if name and prefix in PREFIX else None
