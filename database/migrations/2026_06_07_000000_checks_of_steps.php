<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** A check of the way back belongs to the step that it proves, and not to a place in a list that may grow. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasColumn('teardown_checks', 'of')) {
            Schema::drop('teardown_checks');
            Schema::create('teardown_checks', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->string('act', 12);
                $t->string('of', 36);
                $t->double('value')->nullable();
                $t->string('note', 400)->default('');
                $t->foreignId('done_by')->constrained('people');
                $t->dateTime('done_at', 6);
                $t->unique(['job_id', 'act', 'of']);
            });
        }
    }

    public function down(): void
    {
        Schema::table('teardown_checks', function (Blueprint $t): void {
            $t->dropUnique(['job_id', 'act', 'of']);
            $t->renameColumn('of', 'after');
        });
    }
};
