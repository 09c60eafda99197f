"""All commands by name: what each does, and an example. The module of its name carries it out."""

from __future__ import annotations

COMMANDS = {
    "open": ("open a project or script on the screen (the default)", "glimb open huts"),
    "run": ("run cases and print their verdicts", "glimb run huts -k 'last bunk' --junit verdicts.xml"),
    "exec": ("run statements and print one outcome for each", "glimb exec try.sql --format jsonl"),
    "at": ("tell the state after a rung of a case", "glimb at huts/cases/bunks.sql -k 'last bunk' --rung 2"),
    "climb": (
        "tell a rung of a case statement by statement",
        "glimb climb huts/cases/rates.sql -k member --rung 1",
    ),
    "pin": ("write what rungs did as expectations", "glimb pin huts/cases/bunks.sql --slips --dry-run"),
    "check": ("tell what is wrong or dubious, without running", "glimb check huts --format github"),
    "cover": ("run cases and tell what they have tried of the routines", "glimb cover huts --missing --at-least 90"),
    "sheet": ("write a call sheet of a routine", "glimb sheet night_rate --edges --take"),
    "survey": ("tell what cases have shown of each routine, and what they assert", "glimb survey huts"),
    "routine": (
        "tell a routine from all sides: promises, callers, counts of its lines",
        "glimb routine night_rate huts",
    ),
    "rows": ("tell rows of a table, or the tables", "glimb rows bunk --project huts --where \"state = 'broken'\""),
    "weave": ("try all orders of a case's sessions", "glimb weave huts/cases/bunks.sql -k 'last bunk'"),
    "draw": (
        "draw a ladder, a weave, the proof grid and more into a file",
        "glimb draw ladder huts/cases/bunks.sql -k 'last bunk' -o bunk.pdf",
    ),
    "new": (
        "make a new project, or a routine, case, sheet or fixture in one",
        "glimb new stock && cd stock && glimb run",
    ),
    "cache": ("tell where parsed scripts are kept between runs, or remove them", "glimb cache clear"),
    "completion": ("print what makes a shell complete", 'eval "$(glimb completion bash)"'),
    "demo": ("write the demo project to a folder", "glimb demo huts && glimb open huts"),
}
"""What a command does in a few words, and an example; it is carried out by the module of its name in `commands`."""
