<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Joints that are looked at again, each on its day, also when the pack went back meanwhile. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('joint_checks')) {
            Schema::create('joint_checks', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->unsignedSmallInteger('tap');
                $t->double('mohm')->nullable();
                $t->dateTime('due_at', 6);
                $t->dateTime('done_at', 6)->nullable();
                $t->foreignId('done_by')->nullable()->constrained('people');
                $t->double('now_mohm')->nullable();
                $t->boolean('holds')->nullable();
                $t->string('text', 400)->default('');
                $t->index(['workshop_id', 'done_at', 'due_at']);
            });
        }
    }

    public function down(): void
    {
        Schema::dropIfExists('joint_checks');
    }
};
