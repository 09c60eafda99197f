"""Random changes of tables with constraints and triggers, in transactions with savepoints, in the SQL that this engine and
PostgreSQL share."""

from __future__ import annotations

import random
from typing import ClassVar

TABLES = ("p", "k", "m")
SCHEMA = """
CREATE TABLE p (id INTEGER PRIMARY KEY, u INTEGER UNIQUE, v INTEGER CHECK (v < 6), s VARCHAR(3) DEFAULT 'new');
CREATE TABLE k (id INTEGER PRIMARY KEY, p INTEGER REFERENCES p ON DELETE {delete} ON UPDATE {update} {deferred}, w INTEGER NOT NULL, d DECIMAL(4,2), UNIQUE (p, w), CHECK (w >= 0 OR d IS NULL));
CREATE TABLE m (id INTEGER PRIMARY KEY, up INTEGER REFERENCES m ON DELETE CASCADE, g INTEGER GENERATED ALWAYS AS (id * 2) {stored});
CREATE TABLE log (what VARCHAR(20), a INTEGER, b INTEGER)
"""
DEFERRED = ("", "DEFERRABLE", "DEFERRABLE INITIALLY DEFERRED")
ACTIONS = ("NO ACTION", "CASCADE", "SET NULL", "SET DEFAULT")
TRIGGERS = {
    "here": """
CREATE TRIGGER t1 AFTER UPDATE ON p REFERENCING OLD AS o NEW AS n FOR EACH ROW WHEN (o.v IS DISTINCT FROM n.v) INSERT INTO log VALUES ('p', o.v, n.v);
CREATE TRIGGER t2 BEFORE INSERT ON k REFERENCING NEW AS n FOR EACH ROW SET n.w = n.w + 1;
CREATE TRIGGER t3 AFTER DELETE ON m REFERENCING OLD AS o FOR EACH ROW INSERT INTO log VALUES ('m', o.id, o.g);
CREATE TRIGGER t4 AFTER INSERT ON p FOR EACH STATEMENT INSERT INTO log VALUES ('s', NULL, NULL)""",
    "there": """
CREATE FUNCTION f1() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN INSERT INTO log VALUES ('p', OLD.v, NEW.v); RETURN NULL; END $$;
CREATE TRIGGER t1 AFTER UPDATE ON p FOR EACH ROW WHEN (OLD.v IS DISTINCT FROM NEW.v) EXECUTE FUNCTION f1();
CREATE FUNCTION f2() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN NEW.w = NEW.w + 1; RETURN NEW; END $$;
CREATE TRIGGER t2 BEFORE INSERT ON k FOR EACH ROW EXECUTE FUNCTION f2();
CREATE FUNCTION f3() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN INSERT INTO log VALUES ('m', OLD.id, OLD.g); RETURN NULL; END $$;
CREATE TRIGGER t3 AFTER DELETE ON m FOR EACH ROW EXECUTE FUNCTION f3();
CREATE FUNCTION f4() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN INSERT INTO log VALUES ('s', NULL, NULL); RETURN NULL; END $$;
CREATE TRIGGER t4 AFTER INSERT ON p FOR EACH STATEMENT EXECUTE FUNCTION f4()""",
}


class Changer:
    """Makes statements from a seed."""

    TABLES: ClassVar[tuple[str, ...]] = TABLES
    VIEWS: ClassVar[tuple[str, ...]] = ()

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)
        self.savepoints: list[str] = []
        self.made = 0

    def triggers(self) -> dict[str, str]:
        """In both languages."""
        return TRIGGERS

    def schema(self) -> str:
        pick = self.chance.choice
        return SCHEMA.format(delete=pick(ACTIONS), update=pick(ACTIONS), stored="{stored}", deferred=pick(DEFERRED))

    def number(self, most: int = 8) -> str:
        return self.chance.choice(["NULL", *(str(n) for n in range(-1, most))])

    def key(self) -> str:
        return str(self.chance.randrange(8))

    def where(self, table: str) -> str:
        column = {"p": ("id", "u", "v"), "k": ("id", "p", "w"), "m": ("id", "up", "g")}[table]
        c = self.chance.choice(column)
        return self.chance.choice(
            [
                f"{c} = {self.key()}",
                f"{c} IN ({self.key()}, {self.key()})",
                f"{c} > {self.key()}",
                f"{c} IS NULL",
                "TRUE",
                f"{c} < (SELECT MAX(id) FROM p)",
            ]
        )

    def statement(self) -> str:
        pick, key, number = self.chance.choice, self.key, self.number
        which = self.chance.randrange(16)
        if which < 3:
            rows = ", ".join(f"({key()}, {number()}, {number()})" for _ in range(pick((1, 1, 2, 3))))
            return f"INSERT INTO p (id, u, v) VALUES {rows}"
        if which < 5:
            rows = ", ".join(
                f"({key()}, {number()}, {pick(['0', '1', '2', 'NULL', '-2'])}, {pick(['NULL', '1.5', '99.994', '99.996', '-3'])})"
                for _ in range(pick((1, 1, 2)))
            )
            return f"INSERT INTO k (id, p, w, d) VALUES {rows}"
        if which == 5:
            return f"INSERT INTO m (id, up) VALUES ({key()}, {number()})"
        if which == 6:
            return f"INSERT INTO p (id, u, v) SELECT id + {key()}, u + {key()}, v FROM p WHERE {self.where('p')}"
        if which < 9:
            return f"UPDATE p SET {pick(['id = id + 1', 'u = 8 - u', 'v = v + 1', 'u = NULL', 'id = 9 - id', 's = s || chr(120)'.replace('chr(120)', chr(39) + 'x' + chr(39)), 'v = (SELECT MIN(w) FROM k WHERE k.p = p.id)'])} WHERE {self.where('p')}"
        if which == 9:
            return f"UPDATE k SET {pick(['p = p + 1', 'w = w - 2', 'd = d * 10', 'id = id + 1', 'p = NULL, w = 0'])} WHERE {self.where('k')}"
        if which == 10:
            return f"UPDATE m SET {pick(['up = NULL', 'up = id', 'up = id - 1'])} WHERE {self.where('m')}"
        if which < 13:
            table = pick(TABLES)
            return f"DELETE FROM {table} WHERE {self.where(table)}"
        if which == 13:
            action = pick(["DELETE", "UPDATE SET v = s.v, u = s.u", "UPDATE SET u = p.u + 1"])
            rows = ", ".join(f"({key()}, {n}, {pick(('1', '2', '7'))})" for n in range(pick((1, 2, 3))))
            return (
                f"MERGE INTO p USING (VALUES {rows}) AS s (id, u, v) ON p.id = s.id WHEN MATCHED AND s.v < 2 THEN {action} "
                "WHEN NOT MATCHED THEN INSERT (id, u, v) VALUES (s.id, s.u, s.v)"
            )
        if which == 14 and len(self.savepoints) < 4:
            self.made += 1
            self.savepoints.append(f"x{self.made}")
            return f"SAVEPOINT {self.savepoints[-1]}"
        if self.savepoints:
            name = self.savepoints.pop()
            return pick([f"ROLLBACK TO SAVEPOINT {name}", f"RELEASE SAVEPOINT {name}"])
        self.savepoints = []
        return pick(["COMMIT", "COMMIT", "ROLLBACK", "SET CONSTRAINTS ALL DEFERRED", "SET CONSTRAINTS ALL IMMEDIATE"])


class Chain(Changer):
    """Keys of two columns and rows that refer over two steps, by two ways; most of it deferred now and then."""

    TABLES = ("g", "h", "j")

    def triggers(self) -> dict[str, str]:
        return {
            "here": "CREATE TRIGGER t1 AFTER DELETE ON h REFERENCING OLD AS o FOR EACH ROW INSERT INTO log VALUES ('h', o.a, o.b)",
            "there": (
                "CREATE FUNCTION f1() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN INSERT INTO log VALUES ('h', OLD.a, OLD.b); RETURN NULL; END $$;\n"
                "CREATE TRIGGER t1 AFTER DELETE ON h FOR EACH ROW EXECUTE FUNCTION f1()"
            ),
        }

    def schema(self) -> str:
        pick = self.chance.choice

        def rest(*actions: str) -> str:
            told = f"ON DELETE {pick(actions or ACTIONS)} ON UPDATE {pick(actions or ACTIONS)}"
            # The peer looks at once for rows whose default is the key that goes, deferred or not.
            return told if "DEFAULT" in told else f"{told} {pick(DEFERRED)}"

        return f"""
CREATE TABLE g (a INTEGER, b INTEGER, c INTEGER UNIQUE {pick(DEFERRED)}, PRIMARY KEY (a, b));
CREATE TABLE h (id INTEGER PRIMARY KEY, a INTEGER, b INTEGER, FOREIGN KEY (a, b) REFERENCES g MATCH {pick(("SIMPLE", "FULL"))} {rest("NO ACTION", "CASCADE", "SET NULL", "RESTRICT")});
CREATE TABLE j (id INTEGER PRIMARY KEY, h INTEGER REFERENCES h {rest()}, a INTEGER DEFAULT 1, b INTEGER DEFAULT 1, FOREIGN KEY (a, b) REFERENCES g (a, b) {rest()});
CREATE TABLE log (what VARCHAR(20), a INTEGER, b INTEGER)
"""

    def few(self) -> str:
        return self.chance.choice("0123")

    def statement(self) -> str:
        pick, few = self.chance.choice, self.few
        null = pick([few(), few(), "NULL"])
        table = pick(self.TABLES)
        keys = {"g": ("a", "b", "c"), "h": ("id", "a", "b"), "j": ("id", "h", "a")}[table]
        where = pick([f"{pick(keys)} = {few()}", f"{pick(keys)} >= {few()}", f"{pick(keys)} IS NULL", "TRUE"])
        which = self.chance.randrange(12)
        if which < 2:
            return f"INSERT INTO g VALUES ({few()}, {few()}, {null})"
        if which == 2:
            return f"INSERT INTO h VALUES ({few()}, {null}, {pick([few(), 'NULL'])})"
        if which < 5:
            return f"INSERT INTO j VALUES ({few()}, {null}, {pick([few(), 'NULL'])}, {few()})"
        if which < 8:
            change = {
                "g": ("a = a + 1", "b = 3 - b", "c = c + 1", "a = b, b = a"),
                "h": ("id = id + 1", "a = 3 - a", "a = NULL, b = NULL", "b = b + 1"),
                "j": ("h = h + 1", "a = b", "h = NULL", "b = 3 - b"),
            }[table]
            return f"UPDATE {table} SET {pick(change)} WHERE {where}"
        if which < 10:
            return f"DELETE FROM {table} WHERE {where}"
        return pick(
            ["COMMIT", "COMMIT", "ROLLBACK", *["SET CONSTRAINTS ALL DEFERRED"] * 3, "SET CONSTRAINTS ALL IMMEDIATE"]
        )


class Viewer(Changer):
    """Changes through views of views, with their conditions and CHECK OPTIONs."""

    TABLES = ("t", "v1", "v2", "v3")
    COLUMNS: ClassVar = {"t": ("id", "a", "b"), "v1": ("id", "x", "b"), "v2": ("id", "x", "y"), "v3": ("k", "x", "z")}

    def triggers(self) -> dict[str, str]:
        return {"here": "SELECT 1", "there": ""}

    def schema(self) -> str:
        pick = self.chance.choice

        def where(*columns: str) -> str:
            c, n = pick(columns), self.few()
            return pick(
                (f" WHERE {c} > {n}", f" WHERE {c} < {n}", f" WHERE {c} IS NOT NULL", f" WHERE {c} IN ({n}, 5)", "")
            )

        def option() -> str:
            return pick(("", "", " WITH LOCAL CHECK OPTION", " WITH CASCADED CHECK OPTION", " WITH CHECK OPTION"))

        third = pick(
            ("id AS k, x, y + 1 AS z", "id AS k, x, 7 AS z", "id AS k, x, y AS z", "id AS k, x, COALESCE(y, x) AS z")
        )
        return f"""
CREATE TABLE t (id INTEGER PRIMARY KEY, a INTEGER DEFAULT 2, b INTEGER CHECK (b < 8));
CREATE TABLE log (what VARCHAR(20), a INTEGER, b INTEGER);
CREATE VIEW v1 (id, x, b) AS SELECT id, a, b FROM t{where("a", "b", "id")}{option()};
CREATE VIEW v2 AS SELECT id, x, b AS y FROM v1{where("x", "b")}{option()};
CREATE VIEW v3 AS SELECT {third} FROM v2{where("x", "y", "id")}{option()}
"""

    def few(self) -> str:
        return self.chance.choice("0123456")

    def statement(self) -> str:
        pick, few = self.chance.choice, self.few
        view = pick(self.TABLES)
        key, *others = columns = self.COLUMNS[view]
        one, value = pick(others), pick((few(), few(), "NULL", "9"))
        condition = pick(
            (f"{pick(columns)} {pick('<>=')} {few()}", f"{one} IS NULL", "TRUE", f"{key} = (SELECT MAX(id) FROM v2)")
        )
        which = self.chance.randrange(10)
        if which < 4:
            given = [key, *self.chance.sample(others, pick((0, 1, 2)))]
            values = [few(), *(pick((few(), "NULL", "DEFAULT")) for _ in given[1:])]
            return f"INSERT INTO {view} ({', '.join(given)}) VALUES ({', '.join(values)})"
        if which < 7:
            changed = pick(
                (f"{one} = {value}", f"{one} = {one} + 1", f"{others[0]} = {others[1]}, {others[1]} = {value}")
            )
            return f"UPDATE {view} SET {changed} WHERE {condition}"
        if which < 9:
            return f"DELETE FROM {view} WHERE {condition}"
        return pick(("COMMIT", "ROLLBACK", f"INSERT INTO {view} ({key}) SELECT id + 3 FROM v1"))
