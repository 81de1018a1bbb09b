"""The page of somebody who has a private passphrase."""
