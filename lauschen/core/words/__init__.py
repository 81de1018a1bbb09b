"""Texts and what they stand for: MAC addresses, codes, amounts, tokens, templates, addresses to go on to."""
