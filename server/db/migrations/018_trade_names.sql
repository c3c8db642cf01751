-- Provisioning is called so everywhere, and a MAC address too.
RENAME TABLE IF EXISTS self_set_policy TO provisioning_policy;
RENAME TABLE IF EXISTS self_set_phone TO provisioned_phone;
RENAME TABLE IF EXISTS self_set_event TO provisioning_event;
ALTER TABLE provisioned_phone CHANGE COLUMN IF EXISTS hardware_address mac_address CHAR(12) NOT NULL;
ALTER TABLE provisioning_event CHANGE COLUMN IF EXISTS hardware_address mac_address CHAR(12) NOT NULL;
