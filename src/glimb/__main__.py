"""`python -m glimb` is the same as the `glimb` command."""

import sys

from glimb.cli import main

sys.exit(main())
