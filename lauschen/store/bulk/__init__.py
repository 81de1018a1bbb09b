"""Rows by the hundred thousand, put in as they are."""
