"""Long work beside the loop: the worker process, whose turn it is there, and jobs that somebody watches."""
