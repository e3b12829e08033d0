"""`python -m keencoat.site.serve`: one web process."""


def main() -> None:
    """Serve on loopback at KEENCOAT_PORT until told to stop."""
    # Processes that compute aside import this module again: it must cost them nothing.
    from keencoat.site.gate import serve

    serve()


if __name__ == "__main__":
    main()
