"""Hosts: a guest asks for one, they are asked and remind, they answer, and look after whom they vouched for."""
