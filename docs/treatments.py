"""Writes docs/treatments.md from the declarations: `python docs/treatments.py` (part of `make types`)."""

import sys
from pathlib import Path

from wenditas.core.params import ParamInfo, describe
from wenditas.core.treat import GROUPS, TREATMENTS

WORDS = {
    "remove": "takes colour away",
    "shift": "moves colours to other colours",
    "map": "turns tones into colours",
    "fill": "lays something over",
    "tone": "changes light and dark",
    "soften": "spreads, sharpens, roughens",
    "break": "displaces",
}


def bounds(info: ParamInfo) -> str:
    """Range, unit and default of a parameter in words."""
    unit = f" {info.unit}" if info.unit else ""
    if info.kind == "number":
        return f"{info.low:g} to {info.high:g}{unit}; {info.default:g}"
    if info.kind == "switch":
        return f"on or off; {'on' if info.default else 'off'}"
    if info.kind == "choice":
        return f"{', '.join(info.choices)}; {info.default}"
    if info.kind == "curve":
        return f"curve over {info.axis}, {info.low:g} to {info.high:g}{unit}"
    if info.kind == "file":
        return {"lut": "a .cube file", "picture": "a picture"}[info.accepts or ""]
    if info.kind == "bands":
        return "list of bands: " + ", ".join(f"{f.name.lower()} {bounds(f)}" for f in info.fields)
    return {
        "colour": f"colour; {info.default}",
        "colours": "list of colours",
        "gradient": "colour stops",
        "shot": "a shot of the project",
        "part": "all of it, or one of its selections",
    }[info.kind]


def text() -> str:
    """The whole page."""
    lines = ["# Treatments", "", "Everything a pass can do, in the order of the list behind `+`. Lengths (px) are in pixels of a picture of 1080 lines."]
    lines += ["", "This page is written from the declarations by `docs/treatments.py`.", ""]
    for group in GROUPS:
        lines += [f"## {group.capitalize()}", "", f"What {WORDS[group]}.", ""]
        for t in TREATMENTS.values():
            if t.group != group:
                continue
            lines += [f"### {t.name}", "", t.summary, "", "| parameter | range; default | |", "|---|---|---|"]
            lines += [f"| {info.name} | {bounds(info)} | {info.help} |" for info in describe(t.params)]
            lines += ["", f"Source: {t.source}. Checked against: {t.check}.", ""]
            if t.presets:
                lines += [f"Presets: {', '.join(t.presets)}.", ""]
    return "\n".join(lines)


def main(check: bool) -> None:
    """Write the page, or say that it is out of date."""
    page = Path(__file__).with_suffix(".md")
    if not check:
        page.write_text(text(), "utf-8")
    elif page.read_text("utf-8") != text():
        sys.exit("docs/treatments.md is out of date: run 'make types'")


if __name__ == "__main__":
    main("--check" in sys.argv)
