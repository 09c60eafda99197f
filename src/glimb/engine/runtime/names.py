"""All that generated code may name at run time."""

from __future__ import annotations

from typing import Any

from glimb.engine.outcomes.coverage import count_bucket, count_look_up, count_rows, rounds_done, stopped
from glimb.engine.runtime.blocks import case_not_found, enter_atomic, leave_atomic, no_return, note
from glimb.engine.runtime.changes import changed_rows, check_failed, null_in, outside_view, run_instead, truncate
from glimb.engine.runtime.cursors import Cursor, call_result
from glimb.engine.runtime.descriptors import (
    allocate_descriptor,
    deallocate_descriptor,
    described_values,
    descriptor_items,
    fill_descriptor,
    set_descriptor,
    set_descriptor_count,
)
from glimb.engine.runtime.diagnostics import all_diagnostics, chosen_condition, command_item, diagnostics
from glimb.engine.runtime.dynamic import (
    allocate_cursor,
    deallocate,
    described,
    execute_dynamic,
    extended,
    named_cursor,
    one_row,
    open_dynamic,
    prepare,
    taken,
)
from glimb.engine.runtime.filling import insert_all
from glimb.engine.runtime.handlers import CAUGHT, caught, escaped, find_handler, leave_routine, resignal, signal
from glimb.engine.runtime.settings import (
    commit,
    rollback,
    set_transaction,
    start_transaction,
)
from glimb.engine.runtime.verbs import FUNCTIONS
from glimb.engine.runtime.writer import Writer
from glimb.engine.transactions.hosts import UNGIVEN
from glimb.engine.values.search_cycle import finished, first_rows, next_rows, to_follow

RUNTIME_NAMES: dict[str, Any] = {
    **FUNCTIONS,
    "CAUGHT": CAUGHT,
    "Cursor": Cursor,
    "UNGIVEN": UNGIVEN,
    "Writer": Writer,
    "insert_all": insert_all,
    "count_bucket": count_bucket,
    "count_look_up": count_look_up,
    "count_rows": count_rows,
    "rounds_done": rounds_done,
    "stopped": stopped,
    **{
        f.__name__: f
        for f in (
            prepare,
            execute_dynamic,
            open_dynamic,
            one_row,
            call_result,
            taken,
            described,
            extended,
            allocate_cursor,
            named_cursor,
            described_values,
            allocate_descriptor,
            deallocate_descriptor,
            set_descriptor,
            set_descriptor_count,
            descriptor_items,
            fill_descriptor,
            first_rows,
            next_rows,
            to_follow,
            finished,
            deallocate,
            changed_rows,
            run_instead,
            outside_view,
            all_diagnostics,
            command_item,
            caught,
            find_handler,
            escaped,
            leave_routine,
            signal,
            resignal,
            diagnostics,
            chosen_condition,
            enter_atomic,
            leave_atomic,
            case_not_found,
            no_return,
            note,
            truncate,
            null_in,
            check_failed,
            start_transaction,
            set_transaction,
            commit,
            rollback,
        )
    },
}
