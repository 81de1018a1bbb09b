"""SQLite through sqlite3 and plain SQL: one module per record family.

The caller opens the transaction; functions here take a connection and return values, never rows or cursors.
"""
