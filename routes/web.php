<?php

declare(strict_types=1);

use Illuminate\Support\Facades\Route;

// Every address that is not the API is a screen of the one page.
Route::view('/{path?}', 'app')->where('path', '(?!api/).*');
