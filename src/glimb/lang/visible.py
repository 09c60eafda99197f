"""What a terminal shows of a text: signs that would steer it, or hide in it, become signs that can be seen."""

from __future__ import annotations

_SIGNS = {
    **{code: 0x2400 + code for code in range(0x20) if code != 0x0A},  # the pictures of the control characters
    0x7F: 0x2421,
    **dict.fromkeys(range(0x80, 0xA0), 0x2426),  # the second set of control characters, CSI and OSC among them
    **dict.fromkeys((0x2028, 0x2029), 0x2424),  # ends of lines and paragraphs
    **dict.fromkeys((0x061C, 0x200E, 0x200F, *range(0x202A, 0x202F), *range(0x2066, 0x206A)), 0x21C4),  # directions
    **dict.fromkeys((0xAD, 0x180E, 0x200B, *range(0x2060, 0x2066), 0xFEFF), 0xA4),  # what has no width
    **dict.fromkeys((*range(0xFFF9, 0xFFFC), *range(0xE0000, 0xE0080)), 0xA4),
    **dict.fromkeys(range(0xD800, 0xE000), 0xFFFD),  # half a character, as in a path that is not UTF-8
    **dict.fromkeys((0xFFFE, 0xFFFF), 0xFFFD),  # no characters, which XML may not hold
}


def visible(text: str) -> str:
    """The text with one sign for each character, so that places and widths stay; line ends stay as they are."""
    return text if text.isascii() and text.isprintable() else text.translate(_SIGNS)


def escaped(text: str) -> str:
    """A text in quotes as SQL writes it, with numbers for what cannot be seen: U&'a\\202Eb' (clause 5.3)."""
    if text.isprintable() and text == visible(text):
        return "'" + text.replace("'", "''") + "'"
    signs = (_number(c) if ord(c) in _SIGNS or c == "\n" else "\\\\" if c == "\\" else c for c in text)
    return "U&'" + "".join(signs).replace("'", "''") + "'"


def _number(sign: str) -> str:
    return f"\\{ord(sign):04X}" if ord(sign) < 0x10000 else f"\\+{ord(sign):06X}"
