"""The commands of the command line, one module each: `options` adds its arguments, `run` carries it out.

In: parsed arguments. Out: lines on the standard output, and an exit status (see `common`). A module is imported when
its command is chosen, and imports what it needs when it runs, so that the others start at once.
"""
