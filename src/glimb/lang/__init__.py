"""Text to tree: tokens, parser, tree nodes with spans, printer and syntax problems. Knows no catalog."""
