<?php

declare(strict_types=1);

// Two accounts on one database: `mariadb` is the application's and cannot alter what is immutable
// (see app/Console/GrantCommand.php); `owner` migrates.
$base = [
    'driver' => 'mariadb',
    'host' => env('DB_HOST', '127.0.0.1'),
    'port' => env('DB_PORT', '33137'),
    'database' => env('DB_DATABASE', 'heartwood'),
    'charset' => 'utf8mb4',
    'collation' => 'utf8mb4_unicode_ci',
    'prefix' => '',
    'strict' => true,
    'engine' => 'InnoDB',
    'timezone' => '+00:00',
];

return [
    'default' => 'mariadb',
    'connections' => [
        'mariadb' => $base + ['username' => env('DB_USERNAME'), 'password' => env('DB_PASSWORD')],
        'owner' => $base + ['username' => env('DB_OWNER_USERNAME'), 'password' => env('DB_OWNER_PASSWORD')],
    ],
    'migrations' => ['table' => 'migrations', 'update_date_on_publish' => false],
];
