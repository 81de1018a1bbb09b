"""Staff sentences: what was heard and decided, worded on reading from codes and numbers."""
