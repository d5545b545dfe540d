<?php

declare(strict_types=1);

// Asks a database one query, and writes its first rows: waits as long as it takes, so whoever started it ends it where that is too long.
// In, as JSON: {engine, ip, port, user, password, database, query, seconds, rows}; out, as JSON: {connected, asked, rows, fault, isConnected, isOurs},
// `connected` and `asked` being the seconds that it took to be let in and to be answered; what is our own fault says nothing of the server.

/** @var array{engine: string, ip: string, port: int, user: string, password: string, database: string, query: string, seconds: float, rows: int} $ask */
$ask = json_decode((string) stream_get_contents(STDIN), true, 4, JSON_THROW_ON_ERROR);
$answer = ['connected' => null, 'asked' => null, 'rows' => [], 'fault' => null, 'isConnected' => false, 'isOurs' => false];
$isMariaDb = $ask['engine'] === 'mariadb';
$ms = max(100, (int) ($ask['seconds'] * 1000));
$from = microtime(true);
try {
    if (!in_array($isMariaDb ? 'mysql' : 'pgsql', PDO::getAvailableDrivers(), true)) {
        $answer['isOurs'] = true;
        throw new RuntimeException('PHP has no driver for it on this machine; whoever keeps it can install ' . ($isMariaDb ? 'php8.2-mysql' : 'php8.2-pgsql'));
    }
    $options = [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION, PDO::ATTR_TIMEOUT => max(1, (int) ceil($ask['seconds']))];
    if ($isMariaDb) {
        $name = "mysql:host={$ask['ip']};port={$ask['port']};charset=utf8mb4" . ($ask['database'] === '' ? '' : ";dbname={$ask['database']}");
        $options += [
            PDO::ATTR_EMULATE_PREPARES => false,
            PDO::MYSQL_ATTR_MULTI_STATEMENTS => false,
            PDO::MYSQL_ATTR_LOCAL_INFILE => false,
            PDO::MYSQL_ATTR_USE_BUFFERED_QUERY => false,
        ];
    } else {
        $database = $ask['database'] === '' ? 'postgres' : $ask['database'];
        $name = "pgsql:host={$ask['ip']};port={$ask['port']};dbname={$database};connect_timeout=" . max(2, (int) ceil($ask['seconds']));
    }
    $connection = new PDO($name, $ask['user'], $ask['password'], $options);
    $answer['connected'] = microtime(true) - $from;
    $answer['isConnected'] = true;
    if ($isMariaDb) {
        try {
            $connection->exec(sprintf('SET SESSION max_statement_time = %.3F', $ms / 1000));
        } catch (PDOException) {
            $connection->exec("SET SESSION max_execution_time = {$ms}");
        }
        $connection->exec('START TRANSACTION READ ONLY');
    } else {
        $connection->exec("SET statement_timeout = {$ms}");
        $connection->exec('BEGIN TRANSACTION READ ONLY');
    }
    $asked = microtime(true);
    $statement = $connection->prepare($ask['query']);
    $statement->execute();
    while (count($answer['rows']) < $ask['rows'] && is_array($row = $statement->fetch(PDO::FETCH_ASSOC))) {
        $answer['asked'] ??= microtime(true) - $asked;
        $answer['rows'][] = (object) array_map(static fn(mixed $value): mixed => match (true) {
            is_resource($value) => mb_strcut((string) stream_get_contents($value, 4_000), 0, 4_000),
            is_string($value) => mb_scrub(mb_strcut($value, 0, 4_000)),
            is_int($value) => (float) $value,
            default => $value,
        }, $row);
    }
    $answer['asked'] ??= microtime(true) - $asked;
} catch (Throwable $error) {
    // What a driver says begins with codes, and names where it went.
    $words = preg_replace(['~^SQLSTATE\[\w+\]:?\s*(?:\[\d+\]\s*)?~', '~\s+~'], ['', ' '], $error->getMessage());
    $answer['fault'] = mb_scrub(mb_strcut(rtrim(trim((string) $words), '.'), 0, 500));
}
echo json_encode($answer, JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION);
