"""What staff see: a JSON API under /api, described by OpenAPI, and the built console."""
