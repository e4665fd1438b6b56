CREATE TABLE berth (berth_no INT PRIMARY KEY, quay VARCHAR(40) NOT NULL DEFAULT 'north', depth DECIMAL(4,1) CHECK (depth >= 0 AND depth <= 30), state ENUM('free','taken'), days DATE[]);
