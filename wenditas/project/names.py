"""Names of exports, from patterns like "{project} {shot} {look}"."""

import re

from wenditas.core.errors import BadRequest

NAME_FIELDS = ("project", "shot", "look", "size")
FORBIDDEN = re.compile(r'[\x00-\x1f<>:"/\\|?*]+')  # of names of files, on any of the usual systems
MOST = 100  # characters


def name_by(pattern: str, values: dict[str, str]) -> str:
    """A name from a pattern. Raises `BadRequest` where it has a field that is none of `NAME_FIELDS`."""
    name, unknown = named_by(pattern, {**dict.fromkeys(NAME_FIELDS, ""), **values})
    if unknown is not None:
        raise BadRequest(f"A name can be made of {', '.join('{' + f + '}' for f in NAME_FIELDS)}; {{{unknown}}} is none of them.")
    return name


def named_by(pattern: str, values: dict[str, str]) -> tuple[str, str | None]:
    """A name from a pattern with fields in braces, fit for a file; and the first field that is not known.

    >>> named_by("{shot}: {look}", {"shot": "Tram", "look": "Night"})
    ('Tram Night', None)
    """
    unknown: list[str] = []

    def value(match: re.Match[str]) -> str:
        if match[1] not in values:
            unknown.append(match[1])
        return values.get(match[1], "")

    name = FORBIDDEN.sub(" ", re.sub(r"\{(\w*)\}", value, pattern))
    name = re.sub(r"\s+", " ", name).strip(" .")[:MOST].strip(" .")
    return name or "Export", unknown[0] if unknown else None
