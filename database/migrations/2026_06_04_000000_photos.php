<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Photos of a job: the picture under its hash outside the database, marks and words beside it; and links that let a phone add some. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('phone_links')) {
            Schema::create('phone_links', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->foreignId('opened_by')->constrained('people');
                $t->char('hash', 64)->unique();
                $t->dateTime('opened_at', 6);
                $t->dateTime('expires_at', 6);
                $t->dateTime('ended_at', 6)->nullable();
                $t->unsignedInteger('taken')->default(0);
                $t->index(['job_id', 'ended_at']);
            });
        }
        if (!Schema::hasTable('photos')) {
            Schema::create('photos', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->char('sha256', 64);
                $t->unsignedInteger('width');
                $t->unsignedInteger('height');
                $t->unsignedInteger('bytes');
                $t->string('about', 12)->default('');
                $t->string('note', 400)->default('');
                $t->json('marks');
                $t->boolean('on_report')->default(false);
                $t->boolean('removed')->default(false);
                $t->foreignId('taken_by')->nullable()->constrained('people');
                $t->foreignId('phone_link_id')->nullable()->constrained();
                $t->dateTime('taken_at', 6);
                $t->dateTime('received_at', 6);
                $t->unsignedInteger('version')->default(1);
                $t->index(['job_id', 'taken_at']);
            });
        }
    }

    public function down(): void
    {
        Schema::dropIfExists('photos');
        Schema::dropIfExists('phone_links');
    }
};
