"""Both HTTP listeners: their sockets, and what no client may do too much of."""
