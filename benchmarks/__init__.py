"""What is fast, each figure beside its peer in one run. `make bench` prints the ratios."""
