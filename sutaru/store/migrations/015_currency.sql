-- In what money a lab asks its price: three letters (ISO 4217), '' where it does not say.
ALTER TABLE print_order ADD COLUMN currency TEXT NOT NULL DEFAULT '';
