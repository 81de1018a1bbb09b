"""What must change at an access device, until it is seen to hold."""
