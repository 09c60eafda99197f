"""Random triggers, written here and there, and random changes that fire them."""

from __future__ import annotations

from against.changes import Changer

SCHEMA = """
CREATE TABLE p (id INTEGER PRIMARY KEY, v INTEGER, w INTEGER DEFAULT 3);
CREATE TABLE k (id INTEGER PRIMARY KEY, p INTEGER DEFAULT 0 REFERENCES p ON DELETE {delete} ON UPDATE {update}, v INTEGER);
CREATE TABLE log (what VARCHAR(20), a INTEGER, b INTEGER)
"""
COLUMNS = {"p": ("id", "v", "w"), "k": ("id", "p", "v")}


class Firer(Changer):
    """Triggers before and after, for rows and statements, of columns, with conditions, that change the row or refuse it."""

    TABLES = ("p", "k")

    def triggers(self) -> dict[str, str]:
        return self.pairs

    def schema(self) -> str:
        pick = self.chance.choice
        actions = ("NO ACTION", "CASCADE", "SET NULL", "SET DEFAULT")
        made = [self.trigger(n) for n in range(self.chance.randint(2, 6))]
        self.pairs = {"here": ";\n".join(h for h, _ in made), "there": ";\n".join(t for _, t in made)}
        return SCHEMA.format(delete=pick(actions), update=pick(actions))

    def trigger(self, number: int) -> tuple[str, str]:
        """One in both languages. Statements that a cascade makes are counted otherwise there, so that k has triggers of
        statements for INSERT only."""
        pick, table = self.chance.choice, self.chance.choice(self.TABLES)
        event, timing = pick(("INSERT", "UPDATE", "DELETE")), pick(("BEFORE", "AFTER"))
        each_row = (table == "k" and event != "INSERT") or pick((True, True, False))
        column, other = pick(COLUMNS[table]), pick(COLUMNS[table])
        of = f" OF {column}" if event == "UPDATE" and pick((True, False)) else ""
        name, row = f"t{number}", "OLD" if event == "DELETE" else "NEW"
        head = f"{timing} {event}{of} ON {table}"
        if not each_row:
            return self._of_statement(name, head, timing, event, column)
        olds, news = ("OLD" if event != "INSERT" else ""), ("NEW" if event != "DELETE" else "")
        names = f"REFERENCING {olds and 'OLD AS o '}{news and 'NEW AS n'} "
        condition = pick(("", "", f"{row}.{other} > {pick('024')}", f"{row}.{other} IS NOT NULL"))
        when = f"WHEN ({condition}) " if condition else ""
        told = f"INSERT INTO log VALUES ('{name}', {(olds and f'OLD.{column}') or 'NULL'}, {(news and f'NEW.{column}') or 'NULL'})"
        does = told
        if timing == "BEFORE" and event != "DELETE":
            does = pick((told, f"SET NEW.{other} = COALESCE(NEW.{other}, 1) + 1" if other not in ("id", "p") else told))
        if pick((0, 0, 0, 0, 1)):
            does = "SIGNAL SQLSTATE '45000'"
        here = f"CREATE TRIGGER {name} {head} {names}FOR EACH ROW {when}{does}".replace("OLD.", "o.").replace(
            "NEW.", "n."
        )
        there = does.replace("SET ", "").replace("SIGNAL SQLSTATE '45000'", "RAISE EXCEPTION SQLSTATE '45000'")
        back = "NULL" if timing == "AFTER" else row
        return here, (
            f"CREATE FUNCTION f{number}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN {there}; RETURN {back}; END $$;\n"
            f"CREATE TRIGGER {name} {head} FOR EACH ROW {when}EXECUTE FUNCTION f{number}()"
        )

    def _of_statement(self, name: str, head: str, timing: str, event: str, column: str) -> tuple[str, str]:
        told, tables = f"INSERT INTO log VALUES ('{name}', NULL, NULL)", ""
        if timing == "AFTER" and " OF " not in head:
            rows = "OLD" if event == "DELETE" else self.chance.choice(("NEW", "NEW" if event == "INSERT" else "OLD"))
            tables = f"REFERENCING {rows} TABLE AS r "
            told = f"INSERT INTO log SELECT '{name}', COUNT(*), SUM({column}) FROM r"
        number = name[1:]
        return f"CREATE TRIGGER {name} {head} {tables}FOR EACH STATEMENT {told}", (
            f"CREATE FUNCTION f{number}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN {told}; RETURN NULL; END $$;\n"
            f"CREATE TRIGGER {name} {head} {tables}FOR EACH STATEMENT EXECUTE FUNCTION f{number}()"
        )

    def few(self) -> str:
        return self.chance.choice("0123456")

    def statement(self) -> str:
        pick, table = self.chance.choice, self.chance.choice(self.TABLES)
        columns = COLUMNS[table]
        one = pick(columns[1:])
        where = pick((f"{pick(columns)} {pick('<=>')} {self.few()}", "TRUE", f"{one} IS NULL"))
        which = self.chance.randrange(10)
        if which < 3:
            rows = ", ".join(
                f"({self.few()}, {pick((self.few(), 'NULL'))}, {pick((self.few(), 'NULL'))})"
                for _ in range(pick((1, 1, 2)))
            )
            return f"INSERT INTO {table} VALUES {rows}"
        if which < 6:
            change = pick(
                (
                    f"{one} = {one} + 1",
                    f"{one} = {self.few()}",
                    f"{one} = {one}",
                    "v = NULL",
                    f"id = {self.few()}",
                    f"id = id + 1, {one} = {self.few()}",
                )
            )
            return f"UPDATE {table} SET {change} WHERE {where}"
        if which < 8:
            return f"DELETE FROM {table} WHERE {where}"
        if which == 8:
            rows = ", ".join(f"({n}, {pick('123')})" for n in self.chance.sample(range(6), pick((1, 2, 3))))
            action = pick(("DELETE", f"UPDATE SET {one} = s.v", f"UPDATE SET v = {table}.v"))
            return (
                f"MERGE INTO {table} USING (VALUES {rows}) AS s (id, v) ON {table}.id = s.id WHEN MATCHED THEN {action} "
                f"WHEN NOT MATCHED THEN INSERT (id, v) VALUES (s.id, s.v)"
            )
        return pick(("COMMIT", "ROLLBACK"))
