<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/** Rounds of the trainer go on after the answer: the choice is carried out, and the pack goes back or does not. */
return new class extends Migration {
    public function up(): void
    {
        if (!Schema::hasColumn('training_rounds', 'answered_after')) {
            Schema::table('training_rounds', function (Blueprint $t): void {
                // So many acts were done before the answer that is carried out; null: there is none to carry out.
                $t->unsignedSmallInteger('answered_after')->nullable()->after('ended_by');
                $t->boolean('returned')->nullable()->after('answered_after');
            });
        }
    }

    public function down(): void
    {
        Schema::table('training_rounds', function (Blueprint $t): void {
            $t->dropColumn(['answered_after', 'returned']);
        });
    }
};
