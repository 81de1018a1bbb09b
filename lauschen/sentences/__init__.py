"""Every sentence that the server words, once, in each language."""
