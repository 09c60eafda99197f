"""Random statements, run here and in the database servers that are installed, and what came out compared."""
