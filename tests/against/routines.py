"""Random procedures in SQL/PSM as this engine and MariaDB share it: blocks, handlers, loops, cursors, signals, savepoints.

What a procedure does is written to a table of traces, so that every step can be compared.
"""

from __future__ import annotations

import random
import re

TABLES = ("r", "trace")
SCHEMA = (
    "CREATE TABLE r (id INTEGER PRIMARY KEY, v INTEGER)",
    "CREATE TABLE trace (n INTEGER, a INTEGER)",
)
CONDITIONS = ("SQLSTATE '45001'", "SQLSTATE '45002'", "SQLSTATE '23000'", "SQLEXCEPTION", "NOT FOUND")
"""Not SQLWARNING: there NOT FOUND is one too, and a set function that leaves out a NULL raises none."""


CLOSED = "BEGIN DECLARE CONTINUE HANDLER FOR SQLSTATE '24000' BEGIN END; CLOSE {}; END; "
"""What stands before OPEN, for the peer only."""
CLOSED_THERE = re.compile(re.escape(CLOSED).replace(r"\{\}", r"\w+"))


class Writer:
    """Makes the body of a procedure or function from a seed."""

    def __init__(self, seed: int, returns: bool = False) -> None:
        self.chance = random.Random(seed)
        self.returns = returns
        self.steps = 0
        self.labels: list[tuple[str, bool]] = []
        self.handling = 0
        self.has_cursor = False
        self.count = 0
        self.depth = 0
        self.deepest = self.chance.choice((0, 0, 0, 0, 0, 1, 1, 1, 2, 3))
        """How far statements nest: most routines are small, so that there are many."""

    def pick(self, *items: str) -> str:
        return self.chance.choice(items)

    def trace(self) -> str:
        self.steps += 1
        return f"INSERT INTO trace VALUES ({self.steps}, {self.pick('x', 'y', 'x + y', 'NULL', 'n')});"

    def number(self) -> str:
        return self.pick("x", "y", "1", "2", "3", "n", "x + 1", "y - 1", "NULL")

    def condition(self) -> str:
        return self.pick(
            f"{self.number()} {self.pick('=', '<', '>', '<>')} {self.number()}",
            f"{self.pick('x', 'y')} IS NULL",
            f"NOT (x < {self.number()})",
            f"EXISTS (SELECT 1 FROM r WHERE v > {self.number()})",
            f"x BETWEEN {self.number()} AND {self.number()} OR y > 2",
        )

    def body(self) -> str:
        last = self.trace() if not self.returns else self.pick("", f"RETURN {self.number()};")
        label = self.label(False) if self.returns else "l0"
        inner = self.statements(self.chance.randint(1, 5))
        return f"{label}: BEGIN DECLARE x, y, n INTEGER DEFAULT 0; {inner} {last} END"

    # In the peer a change of no rows is no NOT FOUND: changes stand where there are rows.

    def statements(self, count: int) -> str:
        return " ".join(self.statement() for _ in range(count))

    def statement(self) -> str:
        which = self.chance.randrange(24 if self.returns else 22)
        if self.depth > self.deepest:
            which = which % 11
        if which > 21 or (self.returns and which == 17):
            again = f"RETURN {self.number()};"
            return self.pick(again, f"IF {self.condition()} THEN {again} END IF;")
        if which < 3:
            return f"SET {self.pick('x', 'y')} = {self.number()};"
        if which == 3:
            return f"INSERT INTO r VALUES ({self.pick('1', '2', '3', '4', '5', 'x', 'y')}, {self.number()});"
        if which == 4:
            where = f"id {self.pick('=', '<', '>')} {self.number()}"
            return f"IF EXISTS (SELECT 1 FROM r WHERE {where}) THEN UPDATE r SET v = {self.number()} WHERE {where}; END IF;"
        if which == 5:
            where = f"id = {self.number()}"
            return f"IF EXISTS (SELECT 1 FROM r WHERE {where}) THEN DELETE FROM r WHERE {where}; END IF;"
        if which == 6:
            state = self.pick("45001", "45002", "45003", "45001")
            return f"IF {self.condition()} THEN SIGNAL SQLSTATE '{state}' SET MESSAGE_TEXT = 'm'; END IF;"
        if which == 7:
            return f"SELECT {self.pick('v', 'id', 'COUNT(*)', 'MAX(v)')} INTO {self.pick('x', 'y')} FROM r WHERE id = {self.pick('1', '2', '3', '9', 'x')};".replace(
                "id INTO", "MIN(id) INTO"
            )
        if which in (8, 9) or (which == 10 and not self.labels):
            return self.trace()
        if which == 10:
            label, is_loop = self.chance.choice(self.labels)
            verb = "ITERATE" if is_loop and self.chance.random() < 0.4 else "LEAVE"
            return f"IF {self.condition()} THEN {verb} {label}; END IF;"
        self.depth += 1
        try:
            return self.nested(which)
        finally:
            self.depth -= 1

    def label(self, is_loop: bool) -> str:
        self.count += 1
        self.labels.append((f"l{self.count}", is_loop))
        return f"l{self.count}"

    def nested(self, which: int) -> str:
        if which == 11:
            otherwise = f" ELSE {self.statements(1)}" if self.chance.random() < 0.5 else ""
            return f"IF {self.condition()} THEN {self.statements(2)} ELSEIF {self.condition()} THEN {self.statements(1)}{otherwise} END IF;"
        if which == 12:
            return f"CASE {self.pick('x', 'y')} WHEN 1 THEN {self.statements(1)} WHEN {self.number()} THEN {self.statements(1)} ELSE {self.statements(1)} END CASE;"
        if which == 13:
            return f"CASE WHEN {self.condition()} THEN {self.statements(1)} WHEN {self.condition()} THEN {self.statements(1)} ELSE {self.trace()} END CASE;"
        if which in (14, 15):
            return self.loop(which)
        if which == 16 and not self.handling and not self.has_cursor:
            return self.cursor()
        if which == 17:
            name = self.pick("s1", "s2")
            return f"SAVEPOINT {name}; {self.statements(2)} ROLLBACK TO SAVEPOINT {name};"
        return self.block()

    def loop(self, which: int) -> str:
        self.count += 1
        turn = f"i{self.count}"
        repeats = self.chance.random() < 0.25  # the peer does not test UNTIL after ITERATE, and goes on for ever
        label = self.label(not repeats)
        inner = self.statements(self.chance.randint(1, 3))
        self.labels.pop()
        again = f"SET {turn} = {turn} + 1;"
        if which == 14:
            kind = f"{label}: WHILE {turn} < {self.pick('1', '2', '3')} DO {again} {inner} END WHILE {label};"
        else:
            kind = f"{label}: LOOP {again} IF {turn} > {self.pick('1', '2')} THEN LEAVE {label}; END IF; {inner} END LOOP {label};"
        if repeats:
            kind = f"{label}: REPEAT {again} {inner} UNTIL {turn} >= 2 END REPEAT {label};"
        return f"BEGIN DECLARE {turn} INTEGER DEFAULT 0; {kind} END;"

    def handlers(self) -> str:
        chosen = self.chance.sample(CONDITIONS, self.chance.randint(1, 3))
        found = []
        for condition in chosen:
            kind = self.pick("CONTINUE", "EXIT", "CONTINUE")
            # What a handler within an action raises again ends that action: the peer goes on in it.
            raising = [f"BEGIN {self.trace()} RESIGNAL; END;"] if self.handling == 1 else []
            short = f"BEGIN {self.trace()} {self.statements(1)} END;"
            action = self.pick(self.trace(), short, "SET x = 7;", *raising)
            if self.chance.random() < 0.2:
                action = f"BEGIN DECLARE {self.pick('CONTINUE', 'EXIT')} HANDLER FOR SQLEXCEPTION {self.trace()} {self.statements(2)} END;"
            found.append(f"DECLARE {kind} HANDLER FOR {condition} {action}")
        return " ".join(found)

    def block(self) -> str:
        label = self.label(False)
        # Handlers are outside of what they declare: labels around them cannot be left from them in the peer.
        # A cursor of a handler is there taken for one that is open where the condition was raised.
        kept, self.labels, self.handling = self.labels, [], self.handling + 1
        handlers = self.handlers()
        self.labels, self.handling = kept, self.handling - 1
        inner = self.statements(self.chance.randint(2, 4))
        self.labels.pop()
        local = (
            f"DECLARE {self.pick('x', 'y', 'z')} INTEGER DEFAULT {self.pick('1', '5', 'NULL')}; "
            if self.chance.random() < 0.4
            else ""
        )
        return f"{label}: BEGIN {local}{handlers} {inner} END {label};"

    def cursor(self) -> str:
        """A loop over rows, perhaps with another one within. The peer leaves a cursor open where a handler of a block around
        leaves the block that declares it: it is told to close it before it is opened. And from then on it takes it for the
        next one that is declared in the same place: there is none behind it."""
        self.count += 1
        c, done = f"c{self.count}", f"d{self.count}"
        label = self.label(True)
        inner = self.statements(1)
        self.labels.pop()
        self.has_cursor = True
        return (
            f"BEGIN DECLARE {done} INTEGER DEFAULT 0; DECLARE {c} CURSOR FOR SELECT id, v FROM r WHERE id > {self.number()} ORDER BY id; "
            f"DECLARE CONTINUE HANDLER FOR NOT FOUND SET {done} = 1; {CLOSED.format(c)}OPEN {c}; {label}: LOOP FETCH {c} INTO x, n; "
            f"IF {done} = 1 THEN LEAVE {label}; END IF; {self.trace()} {inner} SET n = n + 1; "
            f"IF n > 40 THEN LEAVE {label}; END IF; END LOOP {label}; CLOSE {c}; END;"
        )
