"""Forms of the page that are no offer: something is written down, and a way in may come of it later."""
