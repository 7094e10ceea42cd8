<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Instruments of the workshop, and the supervised runs that they drive. */
return new class extends Migration {
    public function up(): void
    {
        Schema::create('instruments', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 80);
            $t->string('kind', 12);
            $t->string('host', 120);
            $t->unsignedSmallInteger('port');
            $t->string('place', 80)->default('');
            $t->json('identity');
            $t->string('timer', 40)->default('');
            $t->boolean('simulated')->default(false);
            $t->boolean('active')->default(true);
            $t->dateTime('checked_at', 6)->nullable();
            $t->timestamps(6);
            $t->unique(['workshop_id', 'host', 'port']);
        });
        Schema::create('runs', function (Blueprint $t): void {
            $t->uuid('id')->primary();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->string('kind', 12);
            $t->unsignedSmallInteger('group_no')->default(0);
            $t->json('plan');
            $t->json('state');
            $t->string('outcome', 40)->default('');
            $t->text('reason');
            $t->foreignId('started_by')->constrained('people');
            $t->dateTime('started_at', 6);
            $t->dateTime('ended_at', 6)->nullable();
            $t->index(['job_id', 'started_at']);
            $t->index(['ended_at']);
        });
    }

    public function down(): void
    {
        Schema::dropIfExists('runs');
        Schema::dropIfExists('instruments');
    }
};
