<?php

declare(strict_types=1);

namespace App\Actions;

use App\Models\Person;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Illuminate\Support\Facades\Crypt;
use Illuminate\Support\Facades\DB;

/** The shop's password at its mail server: kept encrypted, read by nobody; an empty one is forgotten. */
final class KeepMailPassword
{
    public function keep(Person $person, string $password): void
    {
        DB::transaction(function () use ($person, $password): void {
            DB::table('mail_secrets')->where('workshop_id', $person->workshop_id)->delete();
            if ($password !== '') {
                DB::table('mail_secrets')->insert([
                    'workshop_id' => $person->workshop_id,
                    'password' => Crypt::encryptString($password),
                    'created_at' => now(),
                    'updated_at' => now(),
                ]);
            }
            SecurityLog::add(SecurityEvent::MailPassword, $person, null, ['set' => $password !== '']);
        });
    }
}
