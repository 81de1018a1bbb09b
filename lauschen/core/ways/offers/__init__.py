"""What guests offer: a code, a name with a password, what they wrote into a form."""
