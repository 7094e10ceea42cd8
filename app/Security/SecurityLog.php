<?php

declare(strict_types=1);

namespace App\Security;

use App\Models\Person;
use Illuminate\Support\Facades\DB;

/** The append-only log of who got in, who did not, and who was given what. Never a secret, never what was typed. */
final class SecurityLog
{
    /**
     * @param  Person|null  $by  who did it, null where nobody is known
     * @param  Person|null  $about  whom it concerns, where that is somebody else
     * @param  array<string, mixed>  $data
     */
    public static function add(SecurityEvent $kind, ?Person $by, ?Person $about = null, array $data = [], ?int $workshop = null): void
    {
        DB::table('security_events')->insert([
            'workshop_id' => $workshop ?? ($by->workshop_id ?? $about?->workshop_id),
            'person_id' => $by?->id,
            'about_id' => $about?->id,
            'kind' => $kind->value,
            'data' => json_encode((object) $data, JSON_THROW_ON_ERROR),
            'address' => (string) request()->ip(),
            'request' => (string) request()->attributes->get('request-id', ''),
            'at' => now()->format('Y-m-d H:i:s.u'),
        ]);
    }
}
