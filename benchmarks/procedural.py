"""Loops, calls and conditions in routines, beside the same in plain Python."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal

from benchmarks.measure import Benchmark, Glimb
from glimb.engine.outcomes.coverage import Coverage

LOOP = """CREATE PROCEDURE spin(OUT total INTEGER) BEGIN
  DECLARE i, a, b INTEGER DEFAULT 0;
  WHILE i < 1000000 DO
    SET i = i + 1;
    SET a = i - b;
    SET b = a - i;
  END WHILE;
  SET total = a;
END;"""
DECIMALS = """CREATE PROCEDURE spin(OUT total DECIMAL(18,4)) BEGIN
  DECLARE i INTEGER DEFAULT 0;
  DECLARE a, b DECIMAL(18,4) DEFAULT 1.5;
  WHILE i < 200000 DO
    SET i = i + 1;
    SET a = a + b;
    SET b = b + 0.0001;
  END WHILE;
  SET total = a;
END;"""
FIB = """CREATE FUNCTION fib(n INTEGER) RETURNS INTEGER BEGIN
  IF n < 2 THEN RETURN n; END IF;
  RETURN fib(n - 1) + fib(n - 2);
END;"""
SIGNALS = """CREATE PROCEDURE spin(OUT n INTEGER) BEGIN
  DECLARE i INTEGER DEFAULT 0;
  SET n = 0;
  WHILE i < 100000 DO
    BEGIN
      DECLARE EXIT HANDLER FOR SQLSTATE '45001' SET n = n + 1;
      SIGNAL SQLSTATE '45001';
    END;
    SET i = i + 1;
  END WHILE;
END;"""

Pair = tuple[Callable[[], object], Callable[[], object]]


def python_loop() -> int:
    i = a = b = 0
    while i < 1000000:
        i = i + 1
        a = i - b
        b = a - i
    return a


def loop() -> Pair:
    return Glimb(LOOP).prepared("CALL spin(?)"), python_loop


def recorded_loop() -> Pair:
    bare, recorded = Glimb(LOOP), Glimb(LOOP)
    recorded.engine.shared.recording = True
    return recorded.prepared("CALL spin(?)"), bare.prepared("CALL spin(?)")


def covered_loop() -> Pair:
    bare, covered = Glimb(LOOP), Glimb(LOOP)
    covered.engine.shared.coverage = Coverage()
    return covered.prepared("CALL spin(?)"), bare.prepared("CALL spin(?)")


def decimals() -> Pair:
    def python() -> Decimal:
        i = 0
        a = b = Decimal("1.5000")
        step = Decimal("0.0001")
        while i < 200000:
            i = i + 1
            a = a + b
            b = b + step
        return a

    return Glimb(DECIMALS).prepared("CALL spin(?)"), python


def fib() -> Pair:
    def python(n: int = 20) -> int:
        return n if n < 2 else python(n - 1) + python(n - 2)

    return Glimb(FIB).prepared("SELECT fib(20)"), python


def signals() -> Pair:
    def python() -> int:
        n = i = 0
        while i < 100000:
            try:
                raise ValueError("45001")
            except ValueError:
                n += 1
            i += 1
        return n

    return Glimb(SIGNALS).prepared("CALL spin(?)"), python


ALL = [
    Benchmark("loop of 1,000,000 rounds, three integer statements", "plain Python", 1.3, loop),
    Benchmark("the same loop, recorded", "bare", 1.7, recorded_loop),
    Benchmark("the same loop, covered", "bare", 1.3, covered_loop),
    Benchmark("DECIMAL(18,4) loop of 200,000 rounds", "decimal.Decimal", 1.6, decimals),
    Benchmark("recursive function, fib(20)", "plain Python", 2, fib),
    Benchmark("condition signalled and handled, 100,000 times", "raise and except", 2, signals),
]
