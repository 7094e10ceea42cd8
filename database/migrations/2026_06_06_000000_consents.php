<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What a customer agreed to, word for word: written once, never changed. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasTable('consents')) {
            Schema::create('consents', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('job_id')->constrained();
                $t->string('said_by', 160);
                $t->string('how', 10);
                $t->string('seal', 16);
                $t->unsignedInteger('ceiling_cents')->nullable();
                $t->json('terms');
                $t->json('words');
                $t->string('may_call', 190)->default('');
                $t->json('signature')->nullable();
                $t->foreignId('taken_by')->constrained('people');
                $t->dateTime('taken_at', 6);
                $t->index(['job_id', 'id']);
            });
        }
    }

    public function down(): void
    {
        Schema::dropIfExists('consents');
    }
};
