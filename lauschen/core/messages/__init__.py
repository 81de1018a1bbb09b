"""Messages to guests, hosts and machines: what they say, how often they are tried, how many there may be."""
