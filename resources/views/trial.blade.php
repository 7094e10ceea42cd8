<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>Charger trial {{ $job->number }}</title>
<style>
    @page { margin: 18mm 20mm; }
    body { font-family: "DejaVu Sans", sans-serif; font-size: 10.5pt; color: #2b2018; line-height: 1.4; }
    h1 { font-size: 18pt; margin: 0 0 1mm; } h2 { font-size: 12pt; margin: 4mm 0 0.5mm; }
    .part { page-break-inside: avoid; }
    .muted { color: #5b4c3d; } table { width: 100%; border-collapse: collapse; margin-top: 2mm; page-break-inside: avoid; }
    td { padding: 0.5mm 0; line-height: 1.2; border-bottom: 0.2mm solid #d9c8a8; vertical-align: top; }
    .num { text-align: right; white-space: nowrap; }
</style>
</head>
<body>
<div class="muted">{{ $workshop }}</div>
<h1>Your charger, tried</h1>
<div>With {{ $job->name }}@if($job->serial !== ''), serial {{ $job->serial }}@endif, for {{ $job->customer->name }}.
  Job {{ $job->number }}, {{ \Carbon\CarbonImmutable::parse($run['started_at'])->format('j F Y') }}.</div>
@foreach($run['trial']['sheet'] as $part)
    @if($part['lines'] !== [])
    <div class="part">
        <h2>{{ $part['title'] }}</h2>
        @foreach($part['lines'] as $line)<div>{{ $line }}</div>@endforeach
    </div>
    @endif
@endforeach
<div class="part">
<h2>What was tried, how often</h2>
<table>
    @foreach($run['trial']['coverage'] as $c)<tr><td>{{ ucfirst($c['what']) }}</td><td class="num">{{ $c['cycles'] }}</td></tr>@endforeach
</table>
</div>
<p class="muted">The tool advises; the maker's instructions, local codes and licensed practice decide.</p>
</body>
</html>
