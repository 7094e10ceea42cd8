<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What came off a pack, in its order, and how it went back. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('teardown_steps')) {
            Schema::create('teardown_steps', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->unsignedSmallInteger('position');
                $t->string('part', 12);
                $t->unsignedSmallInteger('count');
                $t->string('what', 120);
                $t->string('place', 120)->default('');
                $t->string('remark', 400)->default('');
                $t->boolean('hidden')->default(false);
                $t->double('volts')->nullable();
                $t->uuid('photo_id')->nullable();
                $t->double('minutes')->nullable();
                $t->foreignId('taken_by')->constrained('people');
                $t->dateTime('taken_at', 6);
                $t->unsignedSmallInteger('back_count')->nullable();
                $t->string('back_note', 400)->default('');
                $t->foreignId('back_by')->nullable()->constrained('people');
                $t->dateTime('back_at', 6)->nullable();
                $t->unsignedInteger('version')->default(1);
                $t->foreign('photo_id')->references('id')->on('photos');
                $t->index(['job_id', 'position']);
            });
        }
        if (!Schema::hasTable('teardown_checks')) {
            Schema::create('teardown_checks', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->string('act', 12);
                $t->unsignedSmallInteger('after');
                $t->double('value')->nullable();
                $t->string('note', 400)->default('');
                $t->foreignId('done_by')->constrained('people');
                $t->dateTime('done_at', 6);
                $t->unique(['job_id', 'act', 'after']);
            });
        }
    }

    public function down(): void
    {
        Schema::dropIfExists('teardown_checks');
        Schema::dropIfExists('teardown_steps');
    }
};
