"""Who works at the console and which programs do, their sessions, and what they may give."""
