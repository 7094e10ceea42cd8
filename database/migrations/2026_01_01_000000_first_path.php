<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Every row belongs to a workshop. What was observed or decided is appended, never altered (see GrantCommand). */
return new class extends Migration {
    private const CHEMISTRIES = "'nmc','nca','lco','lco-hv','lmo','lfp','lto'";

    public function up(): void
    {
        Schema::create('workshops', function (Blueprint $t): void {
            $t->id();
            $t->string('name', 120);
            $t->json('settings');
            $t->timestamps(6);
        });
        Schema::create('people', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 120);
            $t->string('email', 190)->unique();
            $t->string('password');
            $t->string('role', 20);
            $t->boolean('active')->default(true);
            $t->rememberToken();
            $t->timestamps(6);
        });
        Schema::create('sessions', function (Blueprint $t): void {
            $t->string('id')->primary();
            $t->unsignedBigInteger('user_id')->nullable()->index();
            $t->string('ip_address', 45)->nullable();
            $t->text('user_agent')->nullable();
            $t->longText('payload');
            $t->integer('last_activity')->index();
        });
        Schema::create('customers', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 160);
            $t->string('contact', 190)->default('');
            $t->timestamps(6);
            $t->unique(['workshop_id', 'name']);
        });
        Schema::create('cell_models', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 80);
            $t->string('chemistry', 10);
            $t->json('spec');
            $t->unsignedInteger('price_cents');
            $t->timestamps(6);
            $t->unique(['workshop_id', 'name']);
        });
        Schema::create('pack_models', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 160);
            $t->json('spec');
            $t->timestamps(6);
            $t->unique(['workshop_id', 'name']);
        });
        Schema::create('jobs', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->unsignedInteger('number');
            $t->foreignId('customer_id')->constrained();
            $t->foreignId('pack_model_id')->nullable()->constrained();
            $t->string('name', 160);
            $t->string('serial', 80)->default('');
            $t->string('batch', 80)->default('');
            $t->string('stage', 12)->default('intake');
            $t->string('status', 12)->default('open');
            $t->string('safety_state', 12)->default('clear');
            $t->json('safety_reasons');
            $t->json('safety_released');
            $t->json('pack');
            $t->string('chemistry', 10);
            $t->unsignedSmallInteger('series');
            $t->unsignedSmallInteger('parallel')->nullable();
            $t->json('symptoms');
            $t->json('inspection');
            $t->text('complaint');
            $t->unsignedSmallInteger('revision')->default(1);
            $t->dateTime('waits_until')->nullable();
            $t->string('waits_for', 200)->default('');
            $t->text('workshop_notes')->nullable();
            $t->foreignId('opened_by')->constrained('people');
            $t->dateTime('held_since', 6)->nullable();
            $t->dateTime('closed_at', 6)->nullable();
            $t->timestamps(6);
            $t->unique(['workshop_id', 'number']);
            $t->index(['workshop_id', 'status', 'safety_state', 'waits_until']);
            $t->index(['workshop_id', 'batch']);
        });
        Schema::create('pack_revisions', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('number');
            $t->string('reason', 200);
            $t->foreignId('opened_by')->constrained('people');
            $t->dateTime('opened_at', 6);
            $t->unique(['job_id', 'number']);
        });
        Schema::create('outboxes', function (Blueprint $t): void {
            $t->uuid('id')->primary();
            $t->foreignId('person_id')->constrained('people');
            $t->unsignedBigInteger('last_seq')->default(0);
            $t->timestamps(6);
        });
        Schema::create('measurements', function (Blueprint $t): void {
            $t->uuid('id')->primary();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->string('condition', 12);
            $t->json('data');
            $t->foreignId('taken_by')->constrained('people');
            $t->dateTime('taken_at', 6);
            $t->dateTime('received_at', 6);
            $t->index(['job_id', 'revision', 'taken_at']);
        });
        Schema::create('readings', function (Blueprint $t): void {
            $t->uuid('id')->primary();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->foreignUuid('measurement_id')->constrained();
            $t->string('from_point', 4);
            $t->string('to_point', 4);
            $t->string('typed', 40);
            $t->decimal('value', 12, 6)->nullable();
            $t->decimal('resolution_v', 10, 7)->nullable();
            $t->foreignUuid('corrects_id')->nullable()->constrained('readings');
            $t->foreignId('taken_by')->constrained('people');
            $t->dateTime('taken_at', 6);
            $t->dateTime('received_at', 6);
            $t->uuid('outbox_id');
            $t->unsignedBigInteger('seq');
            $t->index(['job_id', 'taken_at']);
            $t->unique(['outbox_id', 'seq']);
        });
        Schema::create('bench_tests', function (Blueprint $t): void {
            $t->uuid('id')->primary();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->string('kind', 24);
            $t->json('data');
            $t->foreignUuid('corrects_id')->nullable()->constrained('bench_tests');
            $t->foreignId('taken_by')->constrained('people');
            $t->dateTime('taken_at', 6);
            $t->dateTime('received_at', 6);
            $t->index(['job_id', 'revision']);
        });
        Schema::create('verdicts', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->char('hash', 71);
            $t->string('rules', 20);
            $t->json('document');
            $t->json('detail');
            $t->foreignId('issued_to')->constrained('people');
            $t->dateTime('issued_at', 6);
            $t->unique(['job_id', 'hash']);
            $t->index(['job_id', 'id']);
        });
        Schema::create('decisions', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->foreignId('verdict_id')->constrained();
            $t->string('action', 24);
            $t->json('option');
            $t->json('quote');
            $t->text('reason');
            $t->foreignId('decided_by')->constrained('people');
            $t->dateTime('decided_at', 6);
            $t->index(['job_id', 'id']);
        });
        Schema::create('work_steps', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->foreignId('decision_id')->constrained();
            $t->unsignedSmallInteger('position');
            $t->json('step');
            $t->text('entry');
            $t->foreignId('done_by')->nullable()->constrained('people');
            $t->dateTime('done_at', 6)->nullable();
            $t->unique(['decision_id', 'position']);
        });
        Schema::create('proof_entries', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->string('check_code', 24);
            $t->json('data');
            $t->foreignId('entered_by')->constrained('people');
            $t->dateTime('entered_at', 6);
            $t->index(['job_id', 'revision']);
        });
        Schema::create('sign_offs', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->constrained();
            $t->unsignedSmallInteger('revision');
            $t->json('results');
            $t->text('reason');
            $t->foreignId('signed_by')->constrained('people');
            $t->dateTime('signed_at', 6);
            $t->unique(['job_id', 'revision']);
        });
        Schema::create('events', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->foreignId('job_id')->nullable()->constrained();
            $t->foreignId('person_id')->nullable()->constrained('people');
            $t->string('kind', 40);
            $t->json('data');
            $t->dateTime('at', 6);
            $t->index(['job_id', 'id']);
        });
        Schema::create('idempotency_keys', function (Blueprint $t): void {
            $t->foreignId('person_id')->constrained('people');
            $t->char('key', 36);
            $t->char('body_hash', 64);
            $t->unsignedSmallInteger('status')->nullable();
            $t->mediumText('response')->nullable();
            $t->dateTime('created_at', 6)->index();
            $t->primary(['person_id', 'key']);
        });
        foreach (
            [
                'people' => ['role' => "role in ('owner','senior','technician','trainee')"],
                'cell_models' => ['chemistry' => 'chemistry in (' . self::CHEMISTRIES . ')'],
                'jobs' => [
                    'stage' => "stage in ('intake','probe','verdict','plan','work','proof','report')",
                    'status' => "status in ('open','returned','scrapped')",
                    'safety' => "safety_state in ('clear','hold','quarantine')",
                    'chemistry' => 'chemistry in (' . self::CHEMISTRIES . ')',
                    'series' => 'series between 1 and 200',
                ],
                'measurements' => ['condition' => "`condition` in ('rest','relaxing','charge','discharge')"],
                'readings' => ['points' => 'from_point <> to_point', 'value' => 'value is null or value between -2000 and 2000'],
            ]
            as $table => $checks
        ) {
            foreach ($checks as $name => $check) {
                DB::connection($this->getConnection())->statement(
                    "ALTER TABLE `$table` ADD CONSTRAINT `{$table}_{$name}_check` CHECK ($check)",
                );
            }
        }
    }

    public function down(): void
    {
        foreach (
            [
                'idempotency_keys',
                'events',
                'sign_offs',
                'proof_entries',
                'work_steps',
                'decisions',
                'verdicts',
                'bench_tests',
                'readings',
                'measurements',
                'outboxes',
                'pack_revisions',
                'jobs',
                'pack_models',
                'cell_models',
                'customers',
                'sessions',
                'people',
                'workshops',
            ]
            as $table
        ) {
            Schema::dropIfExists($table);
        }
    }
};
