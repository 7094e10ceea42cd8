<?php

declare(strict_types=1);

use App\Models\Event;
use App\Models\PhoneLink;
use App\Models\Photo;
use App\Security\AccessLimits;
use App\Support\PhotoStore;
use Carbon\Carbon;
use Illuminate\Http\UploadedFile;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;
use Tests\Feature\Contract;
use Tests\Feature\Pictures;
use Tests\Feature\Workbench;

beforeEach(function (): void {
    $this->bench = new Workbench($this);
    $this->bench->as('technician');
    $this->job = $this->bench->open();
});

afterEach(fn() => Carbon::setTestNow());

/** What a phone sends that holds a link. */
function fromPhone(mixed $test, string $secret, ?string $id = null, ?string $file = null): TestResponse
{
    return $test->post(
        '/api/phone/photos',
        ['id' => $id ?? (string) Str::uuid7(), 'file' => new UploadedFile($file ?? Pictures::jpeg(), 'p.jpg', null, null, true)],
        ['X-Phone-Link' => $secret, 'Accept' => 'application/json'],
    );
}

it('keeps a photo upright and small enough, without anything that came with it, and gives it out to the workshop alone', function (): void {
    // Held upright, the camera wrote it lying and said so; its maker's note is in the file as it comes.
    $file = Pictures::jpeg(4000, 1000, 6, 'GPS 54.32 N, Piet Haven');
    expect((string) file_get_contents($file))->toContain('Piet Haven');
    $photo = $this->bench->photo($this->job, $file, ['about' => 'label']);
    expect(Contract::complaints($photo, 'post', '/api/jobs/{job}/photos'))
        ->toBe([])
        ->and([$photo->json('width'), $photo->json('height')])
        ->toBe([640, PhotoStore::LONG_SIDE]);
    $kept = $this->get("/api/photos/{$photo->json('id')}/whole")->assertOk();
    expect($kept->headers->get('Cache-Control'))->toContain('immutable');
    $bytes = $kept->getFile()->getContent();
    expect($bytes)
        ->not->toContain('Piet Haven')
        ->not->toContain('Exif')
        ->and(hash('sha256', $bytes))
        ->toBe(Photo::query()->findOrFail($photo->json('id'))->sha256)
        ->and(substr_count($bytes, "\xFF\xE1"))
        ->toBe(0);
    // Turned by a quarter to the right: what was left is above.
    $image = imagecreatefromstring($bytes);
    $red = fn(int $x, int $y): int => (imagecolorat($image, $x, $y) >> 16) & 255;
    expect($red(320, 200))->toBeGreaterThan(180)->and($red(320, 2400))->toBeLessThan(60);
    $small = getimagesizefromstring(
        $this->get("/api/photos/{$photo->json('id')}/small")
            ->assertOk()
            ->getFile()
            ->getContent(),
    );
    expect($small[1])->toBe(PhotoStore::SMALL_SIDE);
    $this->get("/api/photos/{$photo->json('id')}/huge")->assertNotFound();
    // Not on the web: only the application gives it out.
    expect(PhotoStore::folder())->not->toContain('public');
    $other = new Workbench($this);
    $other->as('owner');
    $this->getJson("/api/photos/{$photo->json('id')}/whole")->assertNotFound();
    $this->getJson("/api/jobs/{$this->job->id}/photos")->assertNotFound();
});

it('refuses with a word what is no photo, what is damaged and what would unfold into too much', function (
    string $file,
    string $word,
): void {
    $refused = $this->bench->photo($this->job, $file)->assertStatus(422);
    expect($refused->json('fields.file'))
        ->toContain($word)
        ->and(Contract::complaints($refused, 'post', '/api/jobs/{job}/photos'))
        ->toBe([])
        ->and(Photo::query()->where('job_id', $this->job->id)->exists())
        ->toBeFalse();
})->with([
    'a drawing with a script' => [
        fn() => Pictures::file('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'),
        'JPEG, PNG and WebP are taken',
    ],
    'a page' => [fn() => Pictures::file('<!doctype html><script>alert(1)</script>'), 'JPEG, PNG and WebP are taken'],
    'a gif' => [fn() => Pictures::file("GIF89a\x01\x00\x01\x00\x00\x00\x00;"), 'JPEG, PNG and WebP are taken'],
    'nothing' => [fn() => Pictures::file(''), 'empty'],
    'two hundred million dots' => [fn() => Pictures::hugePng(20000, 10000), '20000 by 10000 dots'],
    'one dot more than is taken' => [fn() => Pictures::hugePng(40_000_001, 1), 'at most 40 million'],
    'cut off' => [fn() => Pictures::file(substr((string) file_get_contents(Pictures::hugePng(900, 700)), 0, 60)), 'damaged'],
    'a program named as a photo' => [fn() => Pictures::file("\xFF\xD8\xFF\xE0<?php echo 1;"), ''],
]);

it('takes the same photo once, whoever sends it again, and never into another job', function (): void {
    $id = (string) Str::uuid7();
    $this->bench->photo($this->job, null, ['id' => $id])->assertCreated();
    $this->bench->photo($this->job, null, ['id' => $id])->assertOk();
    $far = $this->bench->open();
    $this->bench
        ->photo($far, null, ['id' => $id])
        ->assertStatus(422)
        ->assertJsonPath('code', 'other-job');
    expect(Photo::query()->whereKey($id)->count())->toBe(1);
    // The clock of a phone that is ahead dates nothing into the future; one that is behind is believed.
    $ahead = $this->bench->photo($this->job, null, ['at' => now()->addDay()->toIso8601ZuluString()])->json('at');
    $before = $this->bench->photo($this->job, null, ['at' => now()->subHour()->toIso8601ZuluString()])->json('at');
    expect(now()->parse($ahead)->isFuture())
        ->toBeFalse()
        ->and(now()->parse($before)->diffInMinutes(now()))
        ->toBeGreaterThan(59);
});

it('keeps marks as data beside the picture, chosen ones for the report, and puts one away with a trace', function (): void {
    $photo = $this->bench->photo($this->job)->json();
    $patch = fn(array $body, string $version): TestResponse => $this->patchJson("/api/photos/{$photo['id']}", $body, [
        'Idempotency-Key' => (string) Str::uuid(),
        'If-Match' => $version,
    ]);
    $sha = Photo::query()->findOrFail($photo['id'])->sha256;
    $marks = [['x' => 0.25, 'y' => 0.5, 'text' => 'hidden screw'], ['x' => 0.75, 'y' => 0.1, 'text' => '']];
    $marked = $patch(
        ['marks' => $marks, 'about' => 'seal', 'on_report' => true, 'note' => 'under the label'],
        $photo['version'],
    )->assertOk();
    expect(Contract::complaints($marked, 'patch', '/api/photos/{photo}'))
        ->toBe([])
        ->and($marked->json('marks.0.text'))
        ->toBe('hidden screw')
        ->and($marked->json('on_report'))
        ->toBeTrue()
        ->and(Photo::query()->findOrFail($photo['id'])->sha256)
        ->toBe($sha);
    $paper = $this->get("/api/jobs/{$this->job->id}/report.pdf")->assertOk();
    // The picture is in the document as it is kept.
    expect(substr_count((string) $paper->getContent(), '/DCTDecode'))->toBe(1);
    $patch(['note' => 'older'], $photo['version'])->assertStatus(412);
    $patch(['marks' => [['x' => 1.2, 'y' => 0.5]]], $marked->json('version'))->assertStatus(422);
    $patch(['about' => 'cat'], $marked->json('version'))->assertStatus(422);
    $patch(['removed' => true], $marked->json('version'))->assertOk();
    $left = $this->getJson("/api/jobs/{$this->job->id}/photos")->assertOk();
    expect(Contract::complaints($left, 'get', '/api/jobs/{job}/photos'))
        ->toBe([])
        ->and($left->json('photos'))
        ->toBe([])
        ->and(Event::query()->where('job_id', $this->job->id)->where('kind', 'photo-removed')->count())
        ->toBe(1);
});

it('lets a phone add photos to one job by a secret of 256 bits that is nowhere kept, and tells it nothing of people', function (): void {
    $opened = $this->bench->post("jobs/{$this->job->id}/phone-link")->assertCreated();
    expect(Contract::complaints($opened, 'post', '/api/jobs/{job}/phone-link'))->toBe([]);
    $secret = $opened->json('secret');
    expect(strlen((string) base64_decode(strtr($secret, '-_', '+/'))))
        ->toBe(32)
        ->and(json_encode(PhoneLink::query()->get()))
        ->not->toContain($secret);
    auth()->logout();
    $told = $this->getJson('/api/phone', ['X-Phone-Link' => $secret])->assertOk();
    expect(Contract::complaints($told, 'get', '/api/phone'))
        ->toBe([])
        ->and(array_keys($told->json()))
        ->toBe(['name', 'number', 'until', 'taken']);
    $id = (string) Str::uuid7();
    $first = fromPhone($this, $secret, $id)->assertCreated();
    expect(Contract::complaints($first, 'post', '/api/phone/photos'))->toBe([]);
    fromPhone($this, $secret, $id)->assertOk()->assertJsonPath('taken', 1);
    fromPhone($this, $secret, null, Pictures::file('<svg/>'))->assertStatus(422);
    fromPhone($this, $secret . 'x')
        ->assertNotFound()
        ->assertJsonPath('code', 'no-link');
    fromPhone($this, '')->assertNotFound();
    $photo = Photo::query()->findOrFail($id);
    expect($photo->phone_link_id)
        ->not->toBeNull()
        ->and($photo->taken_by)
        ->toBe($this->bench->people['technician']->id);
});

it('ends a link after its hours, by a word at the bench, with the job, and when it has taken enough', function (): void {
    $open = fn(): string => $this->bench->post("jobs/{$this->job->id}/phone-link")->json('secret');
    $secret = $open();
    Carbon::setTestNow(now()->addHours(AccessLimits::PHONE_HOURS)->subMinute());
    fromPhone($this, $secret)->assertCreated();
    Carbon::setTestNow(now()->addMinutes(2));
    fromPhone($this, $secret)->assertNotFound();
    $this->bench->as('technician');
    $secret = $open();
    PhoneLink::query()
        ->where('job_id', $this->job->id)
        ->update(['taken' => AccessLimits::PHONE_PHOTOS - 1]);
    fromPhone($this, $secret)->assertCreated();
    fromPhone($this, $secret)->assertStatus(409)->assertJsonPath('code', 'enough');
    $this->deleteJson("/api/jobs/{$this->job->id}/phone-link", [], ['Idempotency-Key' => (string) Str::uuid()])
        ->assertOk()
        ->assertJsonPath('phone_until', null);
    fromPhone($this, $secret)->assertNotFound();
    $secret = $open();
    $this->job->update(['status' => 'returned']);
    fromPhone($this, $secret)->assertStatus(409)->assertJsonPath('code', 'closed');
});

it('holds off whoever guesses at links', function (): void {
    for ($k = 0; $k < AccessLimits::ADDRESS_FAILURES; $k++) {
        $this->getJson('/api/phone', ['X-Phone-Link' => "guess $k"])->assertNotFound();
    }
    $this->getJson('/api/phone', ['X-Phone-Link' => 'one more'])
        ->assertStatus(429)
        ->assertHeader('Retry-After');
});
