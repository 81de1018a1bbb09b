"""The configuration: access devices, dialects, networks, roles, rules, plans, the site."""
