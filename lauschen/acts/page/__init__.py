"""What guests do at the page."""
