<?php

declare(strict_types=1);

namespace App\Models;

use Heartwood\Core\Record\Fields;
use Heartwood\Core\Trainer\Handover;
use Heartwood\Core\Trainer\Start;
use Heartwood\Core\Trainer\Told;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\HasMany;

/** A round of the trainer that somebody plays or has played. What it is drawn from leaves the server by no screen before it is over. */
final class TrainingRound extends Row
{
    public $timestamps = false;

    /** @var array<string, mixed>|null what its screens show, where it has just been worked out */
    public ?array $seen = null;

    public $incrementing = false;

    protected $keyType = 'string';

    protected $table = 'training_rounds';

    protected $hidden = ['seed', 'told'];

    /** @return array<string, string> */
    protected function casts(): array
    {
        return [
            'told' => 'array',
            'answer' => 'array',
            'score' => 'array',
            'screen' => 'array',
            'attempt' => 'array',
            'returned' => 'boolean',
            'sitting_at' => 'immutable_datetime',
            'started_at' => 'immutable_datetime',
            'ended_at' => 'immutable_datetime',
        ];
    }

    /** @return BelongsTo<Person, $this> */
    public function person(): BelongsTo
    {
        return $this->belongsTo(Person::class);
    }

    /** @return HasMany<TrainingAct, $this> */
    public function acts(): HasMany
    {
        return $this->hasMany(TrainingAct::class)->orderBy('number');
    }

    public function start(): Start
    {
        return $this->told === null
            ? Start::drawn((int) $this->level, (int) $this->seed)
            : Start::told(Told::from(new Fields($this->told)), (int) $this->seed);
    }

    /** @return list<array<string, mixed>> acts in the order in which they were done */
    public function played(): array
    {
        return array_values($this->acts()->get()->map(fn(TrainingAct $a): array => (array) $a->act)->all());
    }

    /**
     * The same, as core reads them: what was done before the answer, and what is done to carry it out.
     *
     * @return array{acts: list<Fields>, answer: Fields|null, work: Handover|null}
     */
    public function course(): array
    {
        $all = array_map(fn(array $a): Fields => new Fields($a), $this->played());
        $after = $this->answered_after;

        return [
            'acts' => $after === null ? $all : array_slice($all, 0, $after),
            'answer' => $this->answer === null ? null : new Fields($this->answer),
            'work' => $after === null ? null : new Handover(array_slice($all, $after), $this->returned),
        ];
    }
}
