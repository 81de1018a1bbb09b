"""What is kept of messages, and of those who are asked by them."""
