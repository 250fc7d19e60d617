-- versions of enrollment profiles are counted from one, as those of profiles are -------------------
update enrollment_profile_version set number = -(number + 1);
update enrollment_profile_version set number = -number;
update device set enrollment_version = enrollment_version + 1;
