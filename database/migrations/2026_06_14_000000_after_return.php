<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

/**
 * What goes on after a pack went back: halves read one against the other, a photo of its display, a mark on its band, a top-up that is
 * due, passports of other workshops, and messages to its owner with what was agreed to.
 */
return new class extends Migration {
    private const ADDED = ['glance', 'topup_every_d', 'topup_at', 'read_at', 'topup'];

    public function up(): void
    {
        if (!Schema::hasColumn('packs', 'glance')) {
            Schema::table('packs', function (Blueprint $t): void {
                $t->json('glance')->nullable();
                $t->json('topup')->nullable();
                $t->unsignedSmallInteger('topup_every_d')->nullable();
                $t->dateTime('topup_at', 6)->nullable();
                $t->dateTime('read_at', 6)->nullable();
                $t->index(['workshop_id', 'name']);
                $t->index(['workshop_id', 'id']);
            });
        }
        if (!Schema::hasColumn('service_readings', 'halves_v')) {
            Schema::table('service_readings', function (Blueprint $t): void {
                $t->json('halves_v')->nullable();
                $t->boolean('topped_up')->default(false);
                $t->index(['pack_id', 'takes_back_id']);
            });
        }
        if (!Schema::hasTable('service_photos')) {
            Schema::create('service_photos', function (Blueprint $t): void {
                $t->uuid('id')->primary();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->uuid('service_reading_id')->nullable();
                $t->foreignId('pack_link_id')->nullable()->constrained();
                $t->char('sha256', 64);
                $t->unsignedInteger('bytes');
                $t->unsignedSmallInteger('width');
                $t->unsignedSmallInteger('height');
                $t->dateTime('taken_at', 6);
                $t->dateTime('received_at', 6);
                $t->index(['pack_id', 'taken_at']);
            });
        }
        if (!Schema::hasTable('pack_imports')) {
            Schema::create('pack_imports', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->foreignId('person_id')->constrained('people');
                $t->dateTime('at', 6);
                $t->char('sha256', 71);
                $t->string('from_workshop', 160);
                $t->longText('document');
                $t->unique(['workshop_id', 'sha256']);
                $t->index(['pack_id', 'at']);
            });
        }
        if (!Schema::hasTable('message_consents')) {
            Schema::create('message_consents', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('customer_id')->constrained();
                $t->string('kind', 20);
                $t->boolean('agreed');
                $t->string('how', 10);
                $t->foreignId('person_id')->nullable()->constrained('people');
                $t->dateTime('at', 6);
                $t->index(['customer_id', 'kind', 'id']);
            });
        }
        if (!Schema::hasTable('messages')) {
            Schema::create('messages', function (Blueprint $t): void {
                $t->id();
                $t->foreignId('workshop_id')->constrained();
                $t->foreignId('pack_id')->constrained();
                $t->foreignId('customer_id')->constrained();
                $t->string('kind', 20);
                $t->string('about', 40);
                $t->string('address', 160)->default('');
                $t->string('subject', 200);
                $t->text('body');
                $t->string('state', 10);
                $t->string('error', 300)->default('');
                $t->unsignedSmallInteger('tries')->default(0);
                $t->foreignId('person_id')->nullable()->constrained('people');
                $t->dateTime('prepared_at', 6);
                $t->dateTime('done_at', 6)->nullable();
                $t->unique(['pack_id', 'kind', 'about']);
                $t->index(['workshop_id', 'state', 'id']);
            });
        }
        if (!Schema::hasTable('mail_secrets')) {
            Schema::create('mail_secrets', function (Blueprint $t): void {
                $t->foreignId('workshop_id')->primary()->constrained();
                $t->text('password');
                $t->timestamps(6);
            });
        }
    }

    public function down(): void
    {
        foreach (['mail_secrets', 'messages', 'message_consents', 'pack_imports', 'service_photos'] as $table) {
            Schema::dropIfExists($table);
        }
        if (Schema::hasColumn('service_readings', 'halves_v')) {
            Schema::table('service_readings', function (Blueprint $t): void {
                $t->dropIndex(['pack_id', 'takes_back_id']);
                $t->dropColumn(['halves_v', 'topped_up']);
            });
        }
        if (Schema::hasColumn('packs', 'glance')) {
            Schema::table('packs', function (Blueprint $t): void {
                $t->dropIndex(['workshop_id', 'name']);
                $t->dropIndex(['workshop_id', 'id']);
                $t->dropColumn(self::ADDED);
            });
        }
    }
};
