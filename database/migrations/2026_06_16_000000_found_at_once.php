<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** What is looked for is found by an index, however many jobs, customers and events there are. */
return new class extends Migration {
    /**
     * @var array<string, array{0: list<string>, 1: list<string>}> by table: columns found by how they begin; columns found by their
     *     words
     */
    private const BY = [
        'jobs' => [['serial', 'name'], ['name', 'serial', 'batch', 'complaint']],
        'customers' => [['phone', 'email'], ['name', 'contact', 'phone', 'email', 'address']],
    ];

    public function up(): void
    {
        if (!Schema::hasIndex('events', ['workshop_id', 'kind'])) {
            Schema::table('events', fn(Blueprint $t) => $t->index(['workshop_id', 'kind']));
        }
        // The one that the foreign key had made for itself; a new start has none beside the other.
        if (Schema::hasIndex('events', 'events_workshop_id_foreign')) {
            Schema::table('events', fn(Blueprint $t) => $t->dropIndex('events_workshop_id_foreign'));
        }
        foreach (self::BY as $table => [$begins, $words]) {
            foreach ($begins as $column) {
                if (!Schema::hasIndex($table, ['workshop_id', $column])) {
                    Schema::table($table, fn(Blueprint $t) => $t->index(['workshop_id', $column]));
                }
            }
            if (!Schema::hasIndex($table, "{$table}_words")) {
                Schema::table($table, fn(Blueprint $t) => $t->fullText($words, "{$table}_words"));
            }
        }
    }

    public function down(): void
    {
        if (Schema::hasIndex('events', ['workshop_id', 'kind'])) {
            // The foreign key needs one of them.
            Schema::table('events', fn(Blueprint $t) => $t->index('workshop_id', 'events_workshop_id_foreign'));
            Schema::table('events', fn(Blueprint $t) => $t->dropIndex(['workshop_id', 'kind']));
        }
        foreach (self::BY as $table => [$begins]) {
            if (Schema::hasIndex($table, "{$table}_words")) {
                Schema::table($table, fn(Blueprint $t) => $t->dropFullText("{$table}_words"));
            }
            foreach ($begins as $column) {
                if (Schema::hasIndex($table, ['workshop_id', $column])) {
                    Schema::table($table, fn(Blueprint $t) => $t->dropIndex(['workshop_id', $column]));
                }
            }
        }
    }
};
