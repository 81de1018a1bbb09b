"""The ids of what is stored, told apart by type."""

from typing import NewType

Mac = NewType("Mac", int)
"""A 48-bit MAC address as a number; `lauschen.core.words.mac` reads and spells it."""
RoleId = NewType("RoleId", int)
PlanId = NewType("PlanId", int)
NetworkId = NewType("NetworkId", int)
RuleId = NewType("RuleId", int)
DialectId = NewType("DialectId", int)
AccessDeviceId = NewType("AccessDeviceId", int)
CredentialId = NewType("CredentialId", int)
AllowanceId = NewType("AllowanceId", int)
BatchId = NewType("BatchId", int)
AdmissionId = NewType("AdmissionId", int)
StayId = NewType("StayId", int)
StaffId = NewType("StaffId", int)
TrustedId = NewType("TrustedId", int)
ChannelId = NewType("ChannelId", int)
MessageId = NewType("MessageId", int)
HostId = NewType("HostId", int)
VouchingId = NewType("VouchingId", int)
KeyId = NewType("KeyId", int)
"""One private passphrase; a credential has several over time."""
