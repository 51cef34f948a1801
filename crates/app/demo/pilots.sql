-- Skerry Sound: pilots, boats and watches.

CREATE TABLE boats (
    id      INTEGER PRIMARY KEY,
    name    TEXT    NOT NULL,
    seats   INTEGER NOT NULL,
    knots   REAL    NOT NULL
);

CREATE TABLE watches (
    id      INTEGER PRIMARY KEY,
    role    TEXT    NOT NULL,
    boat    INTEGER REFERENCES boats (id),
    start   INTEGER NOT NULL,   -- minute of the day
    hours   INTEGER NOT NULL DEFAULT 8
);

CREATE TABLE orders (
    id      INTEGER PRIMARY KEY,
    vessel  TEXT    NOT NULL,
    minute  INTEGER NOT NULL,
    watch   INTEGER REFERENCES watches (id)
);

INSERT INTO boats (id, name, seats, knots) VALUES
    (1, 'tern',      6, 22.5),
    (2, 'eider',     8, 18.0),
    (3, 'guillemot', 4, 26.0);

INSERT INTO watches (id, role, boat, start) VALUES
    (1, 'duty pilot',   1, 360),
    (2, 'second pilot', 2, 840),
    (4, 'night pilot',  3, 1320),
    (5, 'relief',       NULL, 360);

INSERT INTO orders (id, vessel, minute, watch) VALUES
    (1, 'grain coaster', 345, 1),
    (2, 'timber barge',  405, 1),
    (3, 'supply ship',   470, 1),
    (4, 'cable layer',   860, 2),
    (5, 'the mate''s dinghy', 1400, 4);

-- Who goes out with which boat, and how often.
SELECT
    watches.role,
    boats.name AS boat,
    COUNT(orders.id) AS orders
FROM watches
    LEFT JOIN boats  ON boats.id = watches.boat
    LEFT JOIN orders ON orders.watch = watches.id
    -- LEFT JOIN leave ON leave.watch = watches.id
GROUP BY watches.id
HAVING COUNT(orders.id) > 0
ORDER BY orders DESC, watches.role;

/* The fastest boat for each watch, for the board.
   Slow boats are left out. */
SELECT role, MAX(knots) AS knots
FROM watches
    JOIN boats ON boats.id = watches.boat
WHERE knots > 18.0
GROUP BY role;
