<?php

declare(strict_types=1);

// The application, booted for a script.

use Illuminate\Contracts\Console\Kernel;

require dirname(__DIR__) . '/vendor/autoload.php';

$app = require dirname(__DIR__) . '/bootstrap/app.php';
$app->make(Kernel::class)->bootstrap();

/** Whoever asks has to be signed in. */
function signedIn(App\Models\Person $person): void
{
    App\Models\SignIn::query()->create([
        'id' => (string) Illuminate\Support\Str::uuid7(),
        'workshop_id' => $person->workshop_id,
        'person_id' => $person->id,
        'how' => 'password',
        'opened_at' => now(),
        'started_at' => now(),
        'seen_at' => now(),
        'proved_at' => now(),
    ]);
}

return $app;
