<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** The drawer of cells, the logs of testers with their series, and what is worked out for a build. */
return new class extends Migration {
    public function up(): void
    {
        Schema::create('lots', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 80);
            $t->string('supplier', 120)->default('');
            $t->string('date_code', 40)->default('');
            $t->unsignedInteger('price_cents')->default(0);
            $t->timestamps(6);
            $t->unique(['workshop_id', 'name']);
        });
        Schema::create('cells', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('code', 40);
            $t->foreignId('lot_id')->constrained();
            $t->string('model', 80);
            $t->string('chemistry', 10);
            $t->double('rated_ah');
            $t->string('origin', 12)->default('new');
            $t->string('state', 12)->default('untested');
            $t->string('reason', 200)->default('');
            $t->double('capacity_ah')->nullable();
            $t->double('mohm')->nullable();
            $t->double('rest_v')->nullable();
            $t->double('leak_percent_month')->nullable();
            $t->boolean('damaged')->default(false);
            $t->foreignId('job_id')->nullable()->constrained();
            $t->unsignedSmallInteger('group_no')->nullable();
            $t->timestamps(6);
            $t->unique(['workshop_id', 'code']);
            $t->index(['workshop_id', 'state']);
            $t->index(['job_id', 'group_no']);
        });
        Schema::create('cell_events', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('cell_id')->constrained();
            $t->foreignId('person_id')->constrained('people');
            $t->string('kind', 24);
            $t->json('data');
            $t->dateTime('at', 6);
            $t->index(['cell_id', 'id']);
        });
        Schema::create('log_mappings', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('tester', 80);
            $t->json('mapping');
            $t->timestamps(6);
            $t->unique(['workshop_id', 'tester']);
        });
        Schema::create('logs', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('workshop_id')->constrained();
            $t->string('name', 190);
            $t->char('sha256', 64);
            $t->unsignedBigInteger('bytes');
            $t->string('tester', 80)->default('');
            $t->json('mapping');
            $t->json('figures');
            $t->foreignId('cell_id')->nullable()->constrained();
            $t->foreignId('job_id')->nullable()->constrained();
            $t->unsignedSmallInteger('group_no')->nullable();
            $t->foreignId('imported_by')->constrained('people');
            $t->dateTime('imported_at', 6);
            $t->unique(['workshop_id', 'sha256']);
        });
        Schema::create('series_chunks', function (Blueprint $t): void {
            $t->foreignId('log_id')->constrained();
            $t->unsignedInteger('position');
            $t->unsignedInteger('row_count');
            $t->double('t_from');
            $t->double('t_to');
            $t->binary('pyramid');
            $t->binary('body');
            $t->primary(['log_id', 'position']);
        });
        DB::connection($this->getConnection())->statement(
            'ALTER TABLE series_chunks MODIFY pyramid MEDIUMBLOB NOT NULL, MODIFY body MEDIUMBLOB NOT NULL',
        );
        Schema::create('job_sheets', function (Blueprint $t): void {
            $t->id();
            $t->foreignId('job_id')->constrained();
            $t->string('kind', 12);
            $t->json('data');
            $t->foreignId('kept_by')->constrained('people');
            $t->dateTime('kept_at', 6);
            $t->unique(['job_id', 'kind']);
        });
        foreach (
            [
                'cells' => [
                    'state' => "state in ('untested','testing','accepted','rejected','used','spare')",
                    'chemistry' => "chemistry in ('nmc','nca','lco','lco-hv','lmo','lfp','lto')",
                    'origin' => "origin in ('new','salvaged','returned')",
                ],
                'job_sheets' => ['kind' => "kind in ('budget','layout','match')"],
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
        foreach (['job_sheets', 'series_chunks', 'logs', 'log_mappings', 'cell_events', 'cells', 'lots'] as $table) {
            Schema::dropIfExists($table);
        }
    }
};
