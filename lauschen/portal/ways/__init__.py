"""Ways in on the page: for each, what it shows, and what its POST offers."""
