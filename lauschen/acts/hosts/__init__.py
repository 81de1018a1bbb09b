"""Hosts: a guest asks for one, they are asked and reminded, they answer, and look after whom they vouched for."""
