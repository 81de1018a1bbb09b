"""`python -m lauschen` is `lauschen`."""

from lauschen.cli import main

if __name__ == "__main__":
    main()
