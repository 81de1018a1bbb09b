"""Mail, text messages, syslog and webhooks: one outbox, tried again with patience, never lost."""
