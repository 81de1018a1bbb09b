"""What hosts see: the page where one answers, and the page of one's own guests. Both by a link from a mail."""
