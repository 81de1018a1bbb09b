"""Who works at the console, and what each may do."""
