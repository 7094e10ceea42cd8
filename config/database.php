<?php

declare(strict_types=1);

// Two accounts on one database, by socket only: `mariadb` is the application's and cannot alter what is immutable
// (see app/Console/GrantCommand.php); `owner` migrates, with a password that the services never hear.
$base = [
    'driver' => 'mariadb',
    'host' => 'localhost',
    'unix_socket' => env('DB_SOCKET'),
    'database' => env('DB_DATABASE', 'heartwood'),
    'charset' => 'utf8mb4',
    'collation' => 'utf8mb4_unicode_ci',
    'prefix' => '',
    'strict' => true,
    'engine' => 'InnoDB',
    'timezone' => '+00:00',
    // Seconds for getting through; how long an answer is waited for stands with the processes (bin/lib.sh).
    'options' => [PDO::ATTR_TIMEOUT => 4],
];

return [
    'default' => 'mariadb',
    'connections' => [
        'mariadb' => $base + ['username' => env('DB_USERNAME'), 'password' => env('DB_PASSWORD')],
        'owner' => $base + ['username' => env('DB_OWNER_USERNAME'), 'password' => env('DB_OWNER_PASSWORD')],
    ],
    'migrations' => ['table' => 'migrations', 'update_date_on_publish' => false],
];
