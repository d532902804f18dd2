"""The computation and the judgement of suspension mounting. Pure Python: no web, no database, no files."""
