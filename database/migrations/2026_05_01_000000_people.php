<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** People and their sign-ins, invitations, second factor; the security log; customers that can be kept and forgotten; versions. */
return new class extends Migration {
    /** Rows that two people may edit at once: each change raises the version. */
    private const VERSIONED = ['workshops', 'people', 'customers', 'jobs', 'cells', 'lots', 'instruments', 'cell_models', 'pack_models'];

    public function up(): void
    {
        foreach (self::VERSIONED as $table) {
            if (!Schema::hasColumn($table, 'version')) {
                Schema::table($table, fn(Blueprint $t) => $t->unsignedInteger('version')->default(1));
            }
        }
        if (!Schema::hasColumn('workshops', 'demo')) {
            Schema::table('workshops', fn(Blueprint $t) => $t->boolean('demo')->default(false));
            DB::table('workshops')
                ->whereIn('id', DB::table('people')->where('email', 'like', '%@gannetquay.example')->select('workshop_id'))
                ->update(['demo' => true]);
        }
        if (!Schema::hasColumn('people', 'code_hash')) {
            Schema::table('people', function (Blueprint $t): void {
                $t->string('code_hash')->nullable();
                $t->text('totp_secret')->nullable();
                $t->dateTime('totp_since', 6)->nullable();
                $t->unsignedBigInteger('totp_step')->default(0);
                $t->json('competence')->default('[]');
                $t->dateTime('disabled_at', 6)->nullable();
            });
        }
        // A sign-in is kept by its own limits now: no cookie outlives them.
        DB::table('people')->update(['remember_token' => null]);
        if (!Schema::hasTable('recovery_codes')) {
            Schema::create('recovery_codes', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('person_id')->constrained('people');
                $t->char('hash', 64);
                $t->dateTime('used_at', 6)->nullable();
                $t->unique(['person_id', 'hash']);
            });
        }
        if (!Schema::hasTable('sign_ins')) {
            Schema::create('sign_ins', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('person_id')->constrained('people');
                $t->string('how', 12);
                $t->string('address', 45)->default('');
                $t->string('agent', 200)->default('');
                $t->dateTime('opened_at', 6);
                $t->dateTime('started_at', 6);
                $t->dateTime('seen_at', 6);
                $t->dateTime('proved_at', 6)->nullable();
                $t->dateTime('ended_at', 6)->nullable();
                $t->string('why', 24)->default('');
                $t->index(['person_id', 'ended_at']);
            });
        }
        if (!Schema::hasTable('invitations')) {
            Schema::create('invitations', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->string('kind', 8);
                $t->foreignId('person_id')->nullable()->constrained('people');
                $t->string('name', 120)->default('');
                $t->string('email', 190)->default('');
                $t->string('role', 20)->default('');
                $t->char('secret_hash', 64)->unique();
                $t->foreignId('made_by')->constrained('people');
                $t->dateTime('made_at', 6);
                $t->dateTime('expires_at', 6);
                $t->dateTime('used_at', 6)->nullable();
                $t->dateTime('withdrawn_at', 6)->nullable();
                $t->index(['workshop_id', 'used_at']);
            });
        }
        if (!Schema::hasTable('setup_codes')) {
            Schema::create('setup_codes', function (Blueprint $t): void {
                $t->char('secret_hash', 64)->primary();
                $t->dateTime('expires_at', 6);
                $t->dateTime('used_at', 6)->nullable();
            });
        }
        if (!Schema::hasTable('sign_in_attempts')) {
            Schema::create('sign_in_attempts', function (Blueprint $t): void {
                $t->id();
                $t->char('account', 64)->index();
                $t->string('address', 45)->index();
                $t->dateTime('at', 6)->index();
            });
        }
        if (!Schema::hasTable('security_events')) {
            Schema::create('security_events', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->nullable()->constrained();
                $t->foreignId('person_id')->nullable()->constrained('people');
                $t->foreignId('about_id')->nullable()->constrained('people');
                $t->string('kind', 40);
                $t->json('data');
                $t->string('address', 45)->default('');
                $t->string('request', 40)->default('');
                $t->dateTime('at', 6);
                $t->index(['workshop_id', 'id']);
            });
        }
        if (!Schema::hasColumn('customers', 'phone')) {
            Schema::table('customers', function (Blueprint $t): void {
                $t->string('phone', 60)->default('');
                $t->string('email', 190)->default('');
                $t->string('address', 300)->default('');
                $t->text('agreements')->default('');
                $t->text('notes')->default('');
                $t->foreignId('merged_into')->nullable()->constrained('customers');
                $t->dateTime('forgotten_at', 6)->nullable();
            });
            // What was one line becomes the field that it is.
            DB::table('customers')
                ->where('contact', 'like', '%@%')
                ->whereRaw("contact not like '% %'")
                ->update(['email' => DB::raw('contact')]);
            DB::table('customers')
                ->whereRaw("contact regexp '^[+0-9 ()/.-]{5,60}$'")
                ->update(['phone' => DB::raw('contact')]);
            // Names of people do not belong into a log that cannot be altered.
            DB::table('events')
                ->where('kind', 'opened')
                ->update(['data' => DB::raw("json_remove(data, '$.customer')")]);
        }
        if (!Schema::hasColumn('pack_models', 'price_cents')) {
            Schema::table('pack_models', fn(Blueprint $t) => $t->unsignedInteger('price_cents')->nullable());
        }
        // A box belongs to the workshop of its person: the same number in another workshop is another box.
        if (!Schema::hasColumn('outboxes', 'workshop_id')) {
            Schema::table('outboxes', fn(Blueprint $t) => $t->foreignId('workshop_id')->nullable()->after('id')->constrained());
            DB::statement('UPDATE outboxes SET workshop_id = (SELECT workshop_id FROM people WHERE people.id = outboxes.person_id)');
            DB::statement(
                'ALTER TABLE outboxes MODIFY workshop_id bigint unsigned NOT NULL, DROP PRIMARY KEY, ADD PRIMARY KEY (workshop_id, id)',
            );
            DB::statement(
                'ALTER TABLE readings DROP INDEX readings_outbox_id_seq_unique, ADD UNIQUE readings_box_seq_unique (workshop_id, ' .
                    'outbox_id, seq)',
            );
            // What a foreign key made for itself is covered by the new one; where it was made by hand, as in a copy put back, it would
            // stay.
            DB::statement('ALTER TABLE readings DROP INDEX IF EXISTS readings_workshop_id_foreign');
        }
    }

    public function down(): void
    {
        throw new \LogicException('The copy that was taken before the upgrade is the way back: ./heartwood help.');
    }
};
