"""Tree to outcome: catalog, types, binding, planning, code generation, storage, locks and sessions."""
