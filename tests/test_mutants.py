"""Small changes to our own source: each is one, and still a program."""

from __future__ import annotations

import ast

from tools.mutants.changes import SOURCE, chosen, mutants_of

PATH = SOURCE / "engine" / "values" / "conversion.py"


def test_changes_are_programs_of_another_meaning() -> None:
    whole = ast.dump(ast.parse(PATH.read_text()))
    made = mutants_of(PATH)
    assert len({mutant.text for mutant in made}) > 300
    for mutant in made[::7]:
        assert ast.dump(ast.parse(mutant.text)) != whole, mutant.place
        assert mutant.before in PATH.read_text()


def test_a_seed_chooses_the_same_ones() -> None:
    few, many = chosen(5, 1, ["lang"]), chosen(9, 1, ["lang"])
    assert few == many[:5] != chosen(5, 2, ["lang"])
