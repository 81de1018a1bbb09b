"""What follows from events: each is one job on the road, or a part of one."""
