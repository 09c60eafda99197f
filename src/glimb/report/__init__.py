"""Outcomes to files: text, JSON lines and JUnit XML."""
