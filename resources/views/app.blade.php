<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <title>Heartwood</title>
    <link rel="icon" href="/rings.svg" type="image/svg+xml">
    <meta name="csp-nonce" content="{{ Vite::cspNonce() }}">
    @vite('resources/js/main.tsx')
</head>
<body>
    <div id="root"></div>
    <noscript>Heartwood needs JavaScript.</noscript>
</body>
</html>
