<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>Quote {{ $job->number }}</title>
<style>
    @page { margin: 18mm 20mm; }
    body { font-family: "DejaVu Sans", sans-serif; font-size: 10.5pt; color: #2b2018; line-height: 1.4; }
    h1 { font-size: 18pt; margin: 0 0 1mm; } h2 { font-size: 12pt; margin: 5mm 0 1mm; }
    .muted { color: #5b4c3d; } table { width: 100%; border-collapse: collapse; margin-top: 5mm; page-break-inside: avoid; }
    td { padding: 1.4mm 0; border-bottom: 0.2mm solid #d9c8a8; vertical-align: top; } .num { text-align: right; white-space: nowrap; }
    .total td { font-weight: bold; font-size: 12pt; border-top: 0.5mm solid #a8834f; border-bottom: none; }
</style>
</head>
<body>
<div class="muted">{{ $workshop }}</div>
<h1>Quote: {{ $quote['title'] }}</h1>
<div>{{ $job->name }}@if($job->serial !== ''), serial {{ $job->serial }}@endif, for {{ $job->customer->name }}.
  Job {{ $job->number }}.</div>
@foreach($quote['parts'] as $part)
    <h2>{{ $part['title'] }}</h2>
    @foreach($part['lines'] as $line)<div>{{ $line }}</div>@endforeach
@endforeach
<table>
    @foreach($quote['lines'] as $l)<tr><td>{{ ucfirst($l['what']) }}</td><td class="num">{{ $l['amount'] }}</td></tr>@endforeach
    <tr class="total"><td>Together</td><td class="num">{{ $quote['total'] }}</td></tr>
</table>
<p class="muted">Worked out from the prices of this workshop, before the work. The tool advises; the cell maker's datasheet, local codes and
  licensed practice decide.</p>
</body>
</html>
