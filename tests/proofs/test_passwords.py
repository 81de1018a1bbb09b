"""What keeps passwords in a house is not what the tests make it."""

import subprocess
import sys


def test_a_password_costs_what_the_rfc_asks() -> None:
    ask = "from lauschen.proofs.passwords import hasher; print(hasher().hash('x'))"
    told = subprocess.run([sys.executable, "-c", ask], capture_output=True, text=True, check=True)
    assert told.stdout.startswith("$argon2id$v=19$m=65536,t=3,p=4$")
