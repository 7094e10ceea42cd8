<?php

declare(strict_types=1);

use Monolog\Formatter\JsonFormatter;

// A line is one JSON object, with the name of the request that the screen showed (App\Http\Middleware\RequestName).
return [
    'default' => env('LOG_CHANNEL', 'daily'),
    'channels' => [
        'daily' => [
            'driver' => 'daily',
            'path' => storage_path('logs/app.log'),
            'level' => 'info',
            'days' => 14,
            'permission' => 0600,
            'formatter' => JsonFormatter::class,
            'formatter_with' => ['includeStacktraces' => true],
        ],
        'stderr' => [
            'driver' => 'monolog',
            'level' => 'info',
            'handler' => Monolog\Handler\StreamHandler::class,
            'with' => ['stream' => 'php://stderr'],
            'formatter' => JsonFormatter::class,
        ],
        'null' => ['driver' => 'monolog', 'handler' => Monolog\Handler\NullHandler::class],
        'emergency' => ['path' => storage_path('logs/app.log')],
    ],
];
