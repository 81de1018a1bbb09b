"""The one decision: what was heard, what is known, the steps, and the answer with its trace."""
