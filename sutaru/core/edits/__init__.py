"""Typed edits, the program's whole command list: ``apply(job, edit) -> job``, pure, refusing with a plain sentence."""
