"""Scripts: project folders, fixtures, cases, expectations, judging and ladders."""
