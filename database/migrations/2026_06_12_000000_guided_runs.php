<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Guided runs: each with what was typed at its steps, which stays, and what it came to. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('guided_runs')) {
            Schema::create('guided_runs', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->unsignedSmallInteger('revision');
                $t->string('code', 40);
                $t->json('scope');
                $t->foreignId('started_by')->constrained('people');
                $t->dateTime('started_at', 6);
                $t->string('next_text', 400)->default('');
                $t->dateTime('waits_until', 6)->nullable();
                $t->dateTime('ended_at', 6)->nullable();
                $t->foreignId('ended_by')->nullable()->constrained('people');
                $t->json('outcome')->nullable();
                $t->string('left_reason', 400)->default('');
                $t->index(['workshop_id', 'ended_at']);
            });
        }
        if (!Schema::hasTable('guided_entries')) {
            Schema::create('guided_entries', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->foreignId('guided_run_id')->constrained();
                $t->string('step', 60);
                $t->json('data');
                $t->boolean('left')->default(false);
                $t->uuid('withdraws')->nullable();
                $t->foreignId('taken_by')->constrained('people');
                $t->dateTime('taken_at', 6);
                $t->dateTime('received_at', 6);
            });
        }
    }

    public function down(): void
    {
        Schema::dropIfExists('guided_entries');
        Schema::dropIfExists('guided_runs');
    }
};
