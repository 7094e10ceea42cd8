<?php

declare(strict_types=1);

use App\Models\Consent;
use App\Models\Customer;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
    $this->job = $this->bench->open();
    $this->agree = fn(array $more = []): TestResponse => $this->bench->post(
        "jobs/{$this->job->id}/consents",
        $more + ['terms' => ['opening', 'dead-cells'], 'seal' => 'whole', 'how' => 'counter', 'said_by' => 'Customer'],
    );
});

it('keeps what was agreed word for word, with who, how, the ceiling and the strokes of a signature', function (): void {
    $strokes = [[[0.1, 0.2], [0.3, 0.25]], [[0.5, 0.5]]];
    $taken = ($this->agree)(['ceiling_cents' => 12000, 'may_call' => '0400 55', 'signature' => $strokes])->assertCreated();
    expect(Contract::complaints($taken, 'post', '/api/jobs/{job}/consents'))
        ->toBe([])
        ->and($taken->json('agreed.0.words'))
        ->toContain('The seal was whole when it came; it is broken by opening.')
        ->and($taken->json('agreed.0.words.3'))
        ->toMatch('/^Work goes on up to 120\.00 \S+; before more than that you are called\.$/')
        ->and($taken->json('agreed.0.signature'))
        ->toEqual($strokes);
    $job = $this->getJson("/api/jobs/{$this->job->id}");
    expect(Contract::complaints($job, 'get', '/api/jobs/{job}'))->toBe([])->and($job->json('agreed.ceiling_cents'))->toBe(12000);
});

it('lets a later word stand beside the earlier one and change nothing of it', function (): void {
    ($this->agree)(['ceiling_cents' => 5000])->assertCreated();
    $first = Consent::query()->where('job_id', $this->job->id)->first();
    $now = ($this->agree)(['ceiling_cents' => 9000, 'how' => 'phone', 'terms' => ['opening', 'lighter-duty']])->assertCreated();
    expect(array_column($now->json('agreed'), 'ceiling_cents'))
        ->toBe([9000, 5000])
        ->and($first->refresh()->words)
        ->toBe($first->words)
        ->and(Consent::query()->where('job_id', $this->job->id)->count())
        ->toBe(2);
});

it('takes no agreement without opening, none of terms that nobody put, and none on a closed job', function (): void {
    ($this->agree)(['terms' => ['dead-cells']])
        ->assertStatus(422)
        ->assertJsonPath('code', 'nothing-agreed');
    ($this->agree)(['terms' => ['opening', 'everything']])->assertStatus(422);
    ($this->agree)(['signature' => [[[1.2, 0.0]]]])->assertStatus(422);
    ($this->agree)(['said_by' => ''])
        ->assertStatus(422)
        ->assertJsonStructure(['fields' => ['said_by']]);
    $this->job->update(['status' => 'returned']);
    ($this->agree)()->assertStatus(409)->assertJsonPath('code', 'closed');
    expect(Consent::query()->where('job_id', $this->job->id)->exists())->toBeFalse();
});

it('says with every job how to reach whose pack it is, the first that is known', function (): void {
    $call = fn(): string => $this->getJson("/api/jobs/{$this->job->id}")->json('call');
    expect($call())->toBe('');
    $customer = Customer::query()->findOrFail($this->job->customer_id);
    $customer->update(['email' => 'slip@example.org']);
    expect($call())->toBe('slip@example.org');
    $customer->update(['phone' => '0400 55', 'contact' => 'at the slip']);
    expect($call())->toBe('0400 55');
});
