<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>Build sheet {{ $job->number }}</title>
<style>
    @page { margin: 14mm 13mm; }
    body { font-family: "DejaVu Sans", sans-serif; font-size: 10pt; color: #2b2018; line-height: 1.35; }
    h1 { font-size: 17pt; margin: 0 0 1mm; } h2 { font-size: 12pt; margin: 5mm 0 1.5mm; border-bottom: 0.4mm solid #a8834f;
      padding-bottom: 0.8mm; }
    .muted { color: #5b4c3d; } table { width: 100%; border-collapse: collapse; } td, th { text-align: left; vertical-align: top;
      padding: 1.2mm 2mm 1.2mm 0; } th { font-weight: normal; color: #5b4c3d; }
    .rows td { border-bottom: 0.2mm solid #d9c8a8; } .num { text-align: right; white-space: nowrap; } .caution { border-left: 1mm solid
      #a8651b; padding-left: 2mm; }
    .tick { width: 6mm; } .tick span { display: inline-block; width: 4mm; height: 4mm; border: 0.4mm solid #2b2018; } .page {
      page-break-before: always; }
</style>
</head>
<body>
<h1>Build sheet: {{ $job->name }}</h1>
<div class="muted">Job {{ $job->number }}. {{ $sheet['series'] }} groups of {{ $sheet['parallel'] }},
  {{ $sheet['packing'] === 'stack' ? 'stacked' : $sheet['packing'].' rows' }}{{ ['round' => ', round case',
  'stairs' => ', stepped case', 'two-layers' => ', two layers, drawn open'][$sheet['shape']] ?? '' }},
  {{ $sheet['width_mm'] }} x {{ $sheet['height_mm'] }} x {{ $sheet['depth_mm'] }} mm over the cells.
  {{ $sheet['width_mm'] + 32 <= 268 ? 'Drawn to scale: check the 50 mm rule.' : '' }}</div>
@php($scale = min(1.0, ($across ? 268 : 182) / ($sheet['width_mm'] + 32), ($across ? 150 : 225) / ($sheet['height_mm'] + 32)))
@php($both = 2 * ($sheet['height_mm'] + 36) * $scale < ($across ? 155 : 235))
@foreach(['front', 'back'] as $face)
<div style="margin-top: 4mm{{ $face === 'back' && ! $both ? '; page-break-before: always' : '' }}"><img
  src="{{ $image($sheet['svg'][$face]) }}" style="width: {{ round(($sheet['width_mm'] + 32) * $scale, 1) }}mm; height:
  {{ round(($sheet['height_mm'] + 32) * $scale, 1) }}mm"></div>
@endforeach
@if($scale < 1)<div class="muted">Reduced to {{ round(100 * $scale) }} % to fit this page.</div>@endif
<div class="page"></div>
<h2>Cut</h2>
<table class="rows"><tr><th>Piece</th><th class="num">Length</th><th class="num">Pieces</th></tr>
@foreach($sheet['cut_list'] as $c)<tr><td>{{ $c['what'] }}, {{ $sheet['strip']['material'] }} {{ $sheet['strip']['width_mm'] }} x
  {{ $sheet['strip']['thickness_mm'] }} mm</td><td class="num">{{ number_format($c['length_mm'], 1) }} mm</td>
  <td class="num">{{ $c['pieces'] }}</td></tr>@endforeach
</table>
<div class="muted">{{ $sheet['layers'] }} layer{{ $sheet['layers'] === 1 ? '' : 's' }} between groups, {{ $sheet['end_layers'] }} at the
  ends, {{ $sheet['welds'] }} weld spots, {{ $sheet['insulator_rings'] }} insulator rings. Quantities are derived from the drawing.</div>
<h2>Out of the stock</h2>
<table class="rows"><tr><th>Strips of {{ number_format($sheet['stock']['stock_mm'], 0) }} mm</th><th>Cut</th><th class="num">Left</th></tr>
@foreach($sheet['stock']['plan'] as $c)<tr><td>{{ $c['strips'] }}</td>
  <td>{{ implode(', ', array_map(fn ($n, $mm) => $n === 1 ? $mm : "$n x $mm", array_count_values(array_map(strval(...), $c['cuts'])),
    array_keys(array_count_values(array_map(strval(...), $c['cuts']))))) }}</td>
  <td class="num">{{ number_format($c['rest_mm'], 0) }} mm</td></tr>@endforeach
</table>
<div class="muted">{{ $sheet['stock']['strips'] }} strips{{ $sheet['stock']['sheets'] ? ', '.$sheet['stock']['sheets'].' sheets' : '' }},
  {{ number_format(100 * $sheet['stock']['waste'], 0) }} % waste.</div>
<h2>Welded at one go</h2>
<table class="rows">@foreach($sheet['weld_groups'] as $g)<tr><td class="tick"><span></span></td><td>{{ $g['text'] }}</td>
  <td>{{ $g['face'] }}</td><td class="num">{{ $g['spots'] }} spots</td></tr>@endforeach</table>
<div class="muted">Main leads: B- at cell {{ $sheet['leads']['minus']['cell'] }} ({{ $sheet['leads']['minus']['face'] }}), B+ at cell
  {{ $sheet['leads']['plus']['cell'] }} ({{ $sheet['leads']['plus']['face'] }}).</div>
<h2>Sense leads</h2>
<table class="rows"><tr><th>Lead</th><th>Face</th><th>At cell</th><th class="num">Expected today</th><th>Read</th></tr>
@foreach($sheet['sense_leads'] as $l)<tr><td>T{{ $l['tap'] }}</td><td>{{ $l['face'] }}</td><td>{{ $l['cell'] }}</td>
  <td class="num">{{ $l['expected_v'] === null ? 'not read yet' : number_format($l['expected_v'], 3).' V' }}</td><td>_________ V</td>
  </tr>@endforeach
</table>
@foreach(['plug_mating', 'plug_wires'] as $p)<div style="margin-top: 4mm; page-break-inside: avoid"><img
  src="{{ $image($sheet['svg'][$p]) }}" style="width: {{ $sheet['plug_mm'] }}mm"></div>@endforeach
<h2 class="page">Order of work</h2>
<table class="rows">
@foreach($sheet['order'] as $i => $step)<tr><td class="tick"><span></span></td><td class="num" style="width: 7mm">{{ $i + 1 }}.</td>
  <td>{{ $step['text'] }}@if($step['caution'])<div class="caution">{{ $step['caution'] }}</div>@endif</td></tr>@endforeach
</table>
<div class="muted" style="margin-top: 4mm">The tool advises; the cell maker's datasheet, local codes and licensed practice decide.</div>
</body>
</html>
