<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** When a step of the work was begun, and why it was left where it was. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasColumn('work_steps', 'skipped')) {
            Schema::table('work_steps', function (Blueprint $t): void {
                $t->string('skipped', 400)->default('');
                $t->dateTime('started_at', 6)->nullable();
            });
        }
    }

    public function down(): void
    {
        Schema::table('work_steps', function (Blueprint $t): void {
            $t->dropColumn(['skipped', 'started_at']);
        });
    }
};
