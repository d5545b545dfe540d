<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Opis\JsonSchema\Errors\ErrorFormatter;
use Opis\JsonSchema\Validator;
use PHPUnit\Framework\Assert;
use Symfony\Component\Yaml\Yaml;

/** What docs/openapi.yaml promises, held against every answer that a test gets. */
final class Contract
{
    private const ID = 'https://olivine.example/openapi';
    private const MOST_ERRORS = 5;

    private static ?self $instance = null;
    /** @var array<string, array<string, array<string, mixed>>> path → method → operation */
    public readonly array $paths;
    private readonly Validator $validator;

    private function __construct()
    {
        $text = (string) file_get_contents(dirname(__DIR__, 2) . '/docs/openapi.yaml');
        $this->paths = Yaml::parse($text)['paths'];
        $this->validator = new Validator();
        $this->validator->setMaxErrors(self::MOST_ERRORS);
        $this->validator->resolver()?->registerRaw(Yaml::parse($text, Yaml::PARSE_OBJECT_FOR_MAP), self::ID);
    }

    public static function get(): self
    {
        return self::$instance ??= new self();
    }

    public function hold(string $method, string $address, int $status, string $type, string $text): void
    {
        $template = $this->template((string) parse_url("http://olivine{$address}", PHP_URL_PATH));
        $operation = $template === null ? null : $this->paths[$template][strtolower($method)] ?? null;
        if ($template === null || $operation === null) {
            Assert::assertGreaterThanOrEqual(400, $status, "{$method} {$address} is not promised, but there");

            return;
        }
        $type = strtok($type, ';');
        $answer = $operation['responses'][$status] ?? null;
        if ($answer === null) {
            Assert::assertGreaterThanOrEqual(400, $status, "{$method} {$address} answers with status {$status}, which is not promised");
            Assert::assertSame('application/problem+json', $type, "{$method} {$address} with status {$status}");
            $this->fits($text, '/components/schemas/Problem', "{$method} {$address}");

            return;
        }
        $types = array_keys($answer['content'] ?? []);
        if ($types === []) {
            Assert::assertSame('', $text, "{$method} {$address}");

            return;
        }
        Assert::assertContains($type, $types, "{$method} {$address}");
        if ($type === 'application/json') {
            $this->fits(
                $text,
                implode('/', [
                    '',
                    'paths',
                    strtr($template, ['/' => '~1', '{' => '%7B', '}' => '%7D']),
                    strtolower($method),
                    'responses',
                    $status,
                    'content',
                    'application~1json',
                    'schema',
                ]),
                "{$method} {$address}",
            );
        }
    }

    private function template(string $path): ?string
    {
        foreach (array_keys($this->paths) as $template) {
            $pattern = str_replace(['\{id\}', '\{name\}'], ['\d{1,9}', '[^/]+'], preg_quote($template, '~'));
            if (preg_match("~^{$pattern}$~D", $path) === 1) {
                return $template;
            }
        }

        return null;
    }

    private function fits(string $text, string $pointer, string $what): void
    {
        $error = $this->validator->validate(json_decode($text, false, 512, JSON_THROW_ON_ERROR), self::ID . "#{$pointer}")->error();
        Assert::assertTrue(
            $error === null,
            $error === null
                ? ''
                : "{$what}: " .
                    json_encode((new ErrorFormatter())->format($error), JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES) .
                    "\n" .
                    substr($text, 0, 500),
        );
    }
}
