"""What guests see: server-rendered pages that need no script."""
