<?php

declare(strict_types=1);

namespace App\Actions\People;

use App\Actions\Refused;
use App\Models\Person;
use App\Models\Workshop;
use App\Security\PasswordRule;
use App\Security\Secrets;
use App\Security\SecurityEvent;
use App\Security\SecurityLog;
use Illuminate\Support\Facades\DB;

/** Makes a workshop and its owner, for whoever holds the set-up code that the server's own console printed. */
final class OpenWorkshop
{
    public function handle(string $setupCode, string $workshop, string $name, string $email, string $password): Person
    {
        return DB::transaction(function () use ($setupCode, $workshop, $name, $email, $password): Person {
            $code = DB::table('setup_codes')
                ->where('secret_hash', Secrets::hash($setupCode))
                ->whereNull('used_at')
                ->where('expires_at', '>', now())
                ->lockForUpdate()
                ->first();
            if ($code === null) {
                throw new Refused('no-setup-code', 'This set-up code is not known, was used, or is too old.', 422, [
                    'setup_code' => './heartwood setup-code prints a new one.',
                ]);
            }
            $email = JoinWorkshop::free($email);
            $why = PasswordRule::refuses($password, [$name, $email, $workshop]);
            if ($why !== null) {
                throw new Refused('weak-password', $why, 422, ['password' => $why]);
            }
            $shop = Workshop::query()->create(['name' => $workshop, 'settings' => []]);
            $person = Person::query()->create([
                'workshop_id' => $shop->id,
                'name' => $name,
                'email' => $email,
                'password' => $password,
                'role' => 'owner',
                'competence' => [],
            ]);
            DB::table('setup_codes')
                ->where('secret_hash', $code->secret_hash)
                ->update(['used_at' => now()]);
            SecurityLog::add(SecurityEvent::WorkshopOpened, $person);

            return $person;
        });
    }
}
