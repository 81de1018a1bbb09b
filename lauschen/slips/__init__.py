"""What guests take along on paper: slips as a PDF, on sheets, receipts and labels. Made in the worker process."""
