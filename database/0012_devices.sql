-- On which device a revision was made, as its owner calls that; none where the server made it, or an older page.
alter table train_revision add column device text check (char_length(device) between 1 and 60);
