-- Which VLANs of a pool private groups have.
CREATE INDEX credential_by_vlan ON credential (vlan) WHERE vlan IS NOT NULL;
