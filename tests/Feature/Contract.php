<?php

declare(strict_types=1);

namespace Tests\Feature;

use Illuminate\Testing\TestResponse;
use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use Symfony\Component\Yaml\Yaml;

/** Holds responses against contract/openapi.yaml. */
final class Contract
{
    private const SCHEMAS = 'https://heartwood.test/contract/';

    private static ?object $api = null;

    /** @return list<string> what does not fit, empty when the response is as described */
    public static function complaints(TestResponse $response, string $method, string $path): array
    {
        self::$api ??= self::described();
        $status = $response->getStatusCode();
        $described = self::$api->paths->{$path}->{$method}->responses->{$status} ?? null;
        if ($described === null) {
            return ["$method $path does not describe $status"];
        }
        if (isset($described->{'$ref'})) {
            $described = self::$api->components->responses->{basename($described->{'$ref'})};
        }
        $validator = new Validator();
        $validator->setMaxErrors(5);
        $validator->resolver()?->registerPrefix(self::SCHEMAS, base_path('contract'));
        // References in the description are local to it: the schema carries its components along.
        $result = $validator->validate(
            json_decode((string) $response->getContent()),
            (object) ['allOf' => [$described->content->{'application/json'}->schema], 'components' => self::$api->components],
        );

        return $result->isValid() ? [] : array_keys((new ErrorFormatter())->format($result->error(), true));
    }

    /** The description, with the schemas that it refers to found beside it. */
    private static function described(): object
    {
        $text = str_replace("'./", "'" . self::SCHEMAS, (string) file_get_contents(base_path('contract/openapi.yaml')));

        return (object) json_decode((string) json_encode(Yaml::parse($text)));
    }
}
