<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** The trainer: rounds of each person with their acts, and cases that the shop made of its closed jobs. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('training_cases')) {
            Schema::create('training_cases', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->unique()->constrained();
                $t->unsignedSmallInteger('number');
                $t->json('told');
                $t->foreignId('made_by')->constrained('people');
                $t->dateTime('made_at', 6);
                $t->unique(['workshop_id', 'number']);
            });
        }
        if (!Schema::hasTable('training_rounds')) {
            Schema::create('training_rounds', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('person_id')->constrained('people');
                $t->unsignedTinyInteger('level');
                $t->unsignedInteger('seed');
                $t->json('told')->nullable();
                $t->unsignedSmallInteger('case_number')->nullable();
                $t->dateTime('sitting_at', 6);
                $t->dateTime('started_at', 6);
                $t->dateTime('ended_at', 6)->nullable();
                $t->string('ended_by', 10)->nullable();
                $t->json('answer')->nullable();
                $t->json('score')->nullable();
                $t->json('screen')->nullable();
                $t->json('attempt')->nullable();
                $t->index(['person_id', 'ended_at']);
            });
        }
        if (!Schema::hasTable('training_acts')) {
            Schema::create('training_acts', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignUuid('training_round_id')->constrained();
                $t->unsignedSmallInteger('number');
                $t->json('act');
                $t->dateTime('at', 6);
                $t->unique(['training_round_id', 'number']);
            });
        }
    }

    public function down(): void
    {
        foreach (['training_acts', 'training_rounds', 'training_cases'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
