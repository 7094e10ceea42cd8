<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>Report {{ $job['number'] }}</title>
<style>
    @page { margin: 16mm 15mm; }
    body { font-family: "DejaVu Sans", sans-serif; font-size: 9.5pt; color: #2b2018; line-height: 1.35; }
    h1 { font-size: 17pt; margin: 0 0 1mm; } h2 { font-size: 11.5pt; margin: 5mm 0 1.5mm; border-bottom: 0.4mm solid #a8834f;
      padding-bottom: 0.8mm; }
    .muted { color: #5b4c3d; } table { width: 100%; border-collapse: collapse; } td, th { text-align: left; vertical-align: top;
      padding: 1mm 2mm 1mm 0; }
    th { font-weight: normal; color: #5b4c3d; } .rows td { border-bottom: 0.2mm solid #d9c8a8; } .num { text-align: right; white-space:
      nowrap; }
    .mark { position: absolute; width: 4.4mm; height: 4.4mm; border-radius: 2.2mm; background: #7b3b1f; color: #fff;
      text-align: center; font-size: 7.5pt; font-weight: bold; }
    .say { margin: 0 0 1mm; } tr { page-break-inside: avoid; }
    .box { border: 0.5mm solid #7b3b1f; padding: 2.5mm 3mm; margin-top: 4mm; } .state { font-weight: bold; }
</style>
</head>
<body>
@php($d = $job['verdict']['document'] ?? null)
@php($found = $job['decision']['found']['findings'] ?? $d['findings'] ?? null)
@php($said = $job['decision']['found']['statements'] ?? $job['verdict']['detail']['statements'] ?? [])
@php($after = $job['decision'] !== null && $d !== null && $job['decision']['found']['verdict_id'] !== $job['verdict']['id'])
<table><tr>
<td style="width: 66%">
    <div class="muted">{{ $workshop }}</div>
    <h1>{{ $job['name'] }}</h1>
    <div>Job {{ $job['number'] }} for {{ $job['customer'] }}@if($job['serial'] !== ''), serial {{ $job['serial'] }}@endif</div>
    <div class="muted">{{ $job['series'] }} groups in series{{ $job['parallel'] ? ', '.$job['parallel'].' cells in parallel' : '' }},
      {{ strtoupper($job['chemistry']) }}, {{ number_format($job['full_v'], 1) }} V when full. Pack revision {{ $job['revision'] }}.</div>
    @if($job['safety_state'] !== 'clear')
        <div class="box"><span class="state">{{ $job['safety_state'] === 'quarantine' ? 'In quarantine' : 'On hold' }}:</span>
          {{ implode('; ', $job['safety_reasons']) }}</div>
    @endif
    @foreach($job['plain'] as $part)
        <h2>{{ $part['title'] }}</h2>
        @foreach($part['lines'] as $line)<div class="say">{{ $line }}</div>@endforeach
    @endforeach
    @if($job['sign_off'] !== null)
        <p><span class="state">Signed off by {{ $job['sign_off']['by'] }}</span>, {{ substr($job['sign_off']['at'], 0, 10) }}.
          {{ $job['sign_off']['reason'] }}</p>
    @else
        <p class="state">This proof is not signed.</p>
    @endif
</td>
<td style="width: 34%; padding-left: 5mm">
    @if($before ?? null)<div class="muted">Before</div>
      <img src="{{ $before }}" alt="Groups from B- to B+ before the work" style="width: 52mm">@endif
    @if($sample)<div class="muted">{{ ($before ?? null) ? 'After' : 'As it was read' }}</div>
      <img src="{{ $sample }}" alt="Groups from B- to B+" style="width: 52mm">@endif
</td>
</tr></table>
<div class="box" style="page-break-inside: avoid">@foreach($job['cautions']['report'] as $c)<div>{{ $c }}</div>@endforeach</div>
<h1 style="page-break-before: always; margin-top: 0">The numbers behind it</h1>
<div class="muted">{{ $job['name'] }}, job {{ $job['number'] }}</div>
<h2>What was found</h2>
@if($found === null)<div>No verdict was issued.</div>@else
<table class="rows">
    @forelse(array_slice($said, 0, 7) as $s)
        @php($f = $found[$s['findings'][0]])
        <tr><td>{{ $s['title'] }}<br><span class="muted">{{ $f['evidence'][0]['text'] }}
          ({{ $f['evidence'][0]['basis'] }})</span></td><td class="num">{{ round($f['probability'] * 100) }} % sure</td></tr>
    @empty
        <tr><td>Nothing wrong was found in what was measured.</td></tr>
    @endforelse
</table>
@if(! $after && $d['lacks'] !== [])<div class="muted">Not known: {{ implode('; ', $d['lacks']) }}.</div>@endif
@endif
@if($job['decision'] !== null)
    <h2>What was decided and done</h2>
    <div>{{ $job['decision']['said'] }}. {{ $job['decision']['reason'] }}</div>
    <div class="muted">Decided by {{ $job['decision']['by'] }}, {{ substr($job['decision']['at'], 0, 10) }}. Quote
      {{ number_format($job['decision']['quote']->total_cents / 100, 2) }}.</div>
    @if($job['decision']['left'] !== [])<div>Left as it is: {{ implode(' ', $job['decision']['left']) }}</div>@endif
    <table class="rows">
        @foreach($job['decision']['steps'] as $s)
            <tr><td>{{ $s['title'] }}
              <span class="muted">{{ $s['skipped'] ?: ($s['typed'] ?: ($s['state'] === 'done' ? $s['proof'] : '')) }}</span></td>
              <td class="num">{{ ['done' => $s['by'] === null ? 'proved' : 'done, '.$s['by'], 'skipped' => 'left, '.$s['by'],
                'open' => 'not done'][$s['state']] }}</td></tr>
        @endforeach
    </table>
@endif
@if($after)
    <h2>After the work</h2>
    <div>{{ $d['findings'] === [] ? 'Nothing wrong was found in what was measured since.' : implode('; ', array_map(fn ($s) =>
      $s['title'].' ('.round($d['findings'][$s['findings'][0]]['probability'] * 100).' % sure)',
      array_slice($job['verdict']['detail']['statements'], 0, 5))).'.' }}</div>
    @if($d['lacks'] !== [])<div class="muted">Not known: {{ implode('; ', $d['lacks']) }}.</div>@endif
@endif
@if(($photos ?? []) !== [])
<h2>Photos</h2>
@foreach($photos as $p)
<div style="page-break-inside: avoid; margin-bottom: 3mm">
    <div style="position: relative; width: {{ $p['mm'] }}mm; height: {{ $p['high'] }}mm">
        <img src="{{ $p['src'] }}" alt="" style="width: {{ $p['mm'] }}mm; height: {{ $p['high'] }}mm">
        @foreach($p['marks'] as $i => $m)
            <div class="mark" style="left: {{ $m['left'] }}mm; top: {{ $m['top'] }}mm">{{ $i + 1 }}</div>
        @endforeach
    </div>
    <div>{{ $p['said'] }}
      @foreach($p['marks'] as $i => $m) <b>{{ $i + 1 }}</b> {{ $m['text'] === '' ? 'marked' : $m['text'] }} @endforeach</div>
</div>
@endforeach
@endif
@if(count($job['line']['sittings']) > 0)
<div style="page-break-inside: avoid">
<h2>From first look to now</h2>
<table class="rows">
    @foreach($job['line']['sittings'] as $s)
        <tr><td style="width: 22%">{{ str_replace('T', ' ', substr($s['from'], 0, 16)) }}
          @if($s['wait_h'] >= 0.5)<br>
            <span class="muted">after {{ \Heartwood\Core\Schedule\JobLine::lasting($s['wait_h']) }}</span>@endif</td>
          <td>{{ implode('; ', array_map(
            fn (array $m): string => $m['text'].($m['hours'] > 0 ? ' ('.\Heartwood\Core\Schedule\JobLine::lasting($m['hours']).')' : ''),
            $s['marks'],
          )) }}</td></tr>
    @endforeach
</table>
</div>
@endif
@php($came = array_filter($job['guided'], fn ($r) => $r['ended_at'] !== null))
@if($came !== [])
<h2>Guided tests</h2>
<table class="rows">
    @foreach($came as $r)
        <tr><td style="width: 38%">{{ $r['title'] }}@if($r['where']), {{ array_key_first($r['where']) }} {{ reset($r['where']) }}@endif</td>
          <td>@if($r['outcome']){{ ['pass' => 'passed', 'fail' => 'failed', 'cannot-tell' => 'cannot tell'][$r['outcome']['word']] }}:
          {{ $r['outcome']['text'] }}. {{ implode(' ', $r['outcome']['reasons']) }}@else left: {{ $r['left'] }}@endif
          <span class="muted">Revision {{ $r['revision'] }}, {{ $r['by'] }}.</span></td></tr>
    @endforeach
</table>
@endif
<div style="page-break-inside: avoid">
<h2>Proof</h2>
<table class="rows">
    @foreach($job['proof'] as $c)
        @if($c['status'] !== 'not-needed')
        <tr><td style="width: 38%">{{ $c['title'] }}</td><td>{{ $c['found'] }}@if($c['status'] !== 'missing') <span
          class="muted">({{ $c['basis'] }})</span>@endif</td><td class="muted">{{ $c['limit'] }}</td>
          <td class="num state">{{ $c['status'] }}</td></tr>
        @endif
    @endforeach
</table>
</div>
</body>
</html>
