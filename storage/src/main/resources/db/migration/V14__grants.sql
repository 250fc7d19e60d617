-- The password a certificate was got with. It is spent when the certificate is first used: a device
-- that never saw the answer asks again.
alter table device_certificate add column grant_name text;
