ALTER TABLE person DROP rota_place;
