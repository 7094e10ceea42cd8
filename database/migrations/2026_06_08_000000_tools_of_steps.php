<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** With which tool a thing came off, and how it lay. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasColumn('teardown_steps', 'tool')) {
            Schema::table('teardown_steps', function (Blueprint $t): void {
                $t->string('tool', 120)->default('');
                $t->string('lay', 120)->default('');
            });
        }
    }

    public function down(): void
    {
        Schema::table('teardown_steps', function (Blueprint $t): void {
            $t->dropColumn(['tool', 'lay']);
        });
    }
};
