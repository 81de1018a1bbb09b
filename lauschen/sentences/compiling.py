"""Compile all catalogues: `python -m lauschen.sentences.compiling`."""

from lauschen.sentences.catalogue import FOLDER, compile_catalogue


def main() -> None:
    for source in sorted(FOLDER.glob("*/*.po")):
        source.with_suffix(".mo").write_bytes(compile_catalogue(source))


if __name__ == "__main__":
    main()
