<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Who agreed, and how they signed, apart from what was agreed: that stays as it was said, and a person can be forgotten. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('consent_people')) {
            Schema::create('consent_people', function (Blueprint $t): void {
                $t->foreignId('consent_id')->primary()->constrained();
                $t->string('said_by', 160);
                $t->string('may_call', 190)->default('');
                $t->json('signature')->nullable();
            });
        }
        if (Schema::hasColumn('consents', 'said_by')) {
            // Ended in the middle, it goes on where it was: nobody is written down twice.
            DB::statement(
                'insert ignore into consent_people (consent_id, said_by, may_call, signature)
                 select id, said_by, may_call, signature from consents',
            );
            Schema::table('consents', function (Blueprint $t): void {
                $t->dropColumn(['said_by', 'may_call', 'signature']);
            });
        }
    }

    public function down(): void
    {
        Schema::table('consents', function (Blueprint $t): void {
            $t->string('said_by', 160)->default('');
            $t->string('may_call', 190)->default('');
            $t->json('signature')->nullable();
        });
        DB::statement(
            'update consents c join consent_people p on p.consent_id = c.id
             set c.said_by = p.said_by, c.may_call = p.may_call, c.signature = p.signature',
        );
        Schema::drop('consent_people');
    }
};
