"""The screens. They hold no rule of SQL and ask the suite for everything they show."""
