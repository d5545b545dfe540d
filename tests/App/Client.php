<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Symfony\Component\HttpClient\HttpClient;
use Symfony\Contracts\HttpClient\HttpClientInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;

/** Speaks to the API as one person, with that person's cookie, and holds each answer against what is promised. */
final class Client
{
    private readonly HttpClientInterface $http;
    private string $cookie = '';

    public function __construct(?string $email, string $password = 'salt-and-marsh')
    {
        $this->http = HttpClient::create(['base_uri' => Instance::web(), 'timeout' => 120, 'max_redirects' => 0]);
        if ($email !== null) {
            [$status] = $this->send('POST', '/api/session', ['email' => $email, 'password' => $password]);
            if ($status !== 200) {
                throw new \RuntimeException("{$email} could not sign in: {$status}");
            }
        }
    }

    /**
     * @param array<string, mixed>|null $body
     * @param array<string, string>     $headers
     *
     * @return array{int, array<array-key, mixed>, string} status, JSON, text
     */
    public function send(string $method, string $path, ?array $body = null, array $headers = []): array
    {
        return $this->sendJson($method, $path, $body === null ? null : json_encode($body, JSON_THROW_ON_ERROR), $headers);
    }

    /**
     * Changes it from what is there now, as a page does that was just opened.
     *
     * @param array<string, mixed> $body
     *
     * @return array{int, array<array-key, mixed>, string} status, JSON, text
     */
    public function change(string $path, array $body): array
    {
        $list = dirname($path);
        $seen = match ($path) {
            '/api/limits' => ['was' => array_column($this->send('GET', $path)[1], 'value', 'name')],
            '/api/retention' => ['was' => array_column($this->send('GET', $path)[1]['tiers'] ?? [], 'days', 'name')],
            '/api/settings' => $this->send('GET', $path)[1],
            default => ['version' => array_column($this->send('GET', $list)[1], 'version', 'id')[(int) basename($path)] ?? 1],
        };
        unset($seen['mailServer']);

        return $this->send('PUT', $path, $body + $seen);
    }

    /**
     * Text that is said to be JSON.
     *
     * @param array<string, string> $headers
     *
     * @return array{int, array<array-key, mixed>, string} status, JSON, text
     */
    public function sendJson(string $method, string $path, ?string $body, array $headers = []): array
    {
        $response = $this->http->request($method, $path, [
            'headers' => $headers + ['Cookie' => $this->cookie] + ($body === null ? [] : ['Content-Type' => 'application/json']),
            'body' => (string) $body,
        ]);
        $status = $response->getStatusCode();
        foreach ($response->getHeaders(false)['set-cookie'] ?? [] as $cookie) {
            $this->cookie = explode(';', $cookie)[0];
        }
        $text = $response->getContent(false);
        Contract::get()->hold($method, $path, $status, $response->getHeaders(false)['content-type'][0] ?? '', $text);
        $data = json_decode($text, true);

        return [$status, is_array($data) ? $data : [], $text];
    }

    /**
     * Begins to ask, and does not wait for the answer.
     *
     * @param array<string, mixed> $body
     */
    public function begin(string $method, string $path, array $body): ResponseInterface
    {
        $response = $this->http->request($method, $path, [
            'headers' => ['Cookie' => $this->cookie, 'Content-Type' => 'application/json'],
            'body' => json_encode($body, JSON_THROW_ON_ERROR),
        ]);
        // What is not looked at is not on its way.
        foreach ($this->http->stream($response, 0.2) as $chunk) {
            if ($chunk->isTimeout()) {
                break;
            }
        }

        return $response;
    }

    /** A file as the body; the answer as it is. */
    public function sendText(string $path, string $body): string
    {
        return $this->http
            ->request('POST', $path, ['headers' => ['Cookie' => $this->cookie, 'Content-Type' => 'application/octet-stream'], 'body' => $body])
            ->getContent(false);
    }

    public function cookie(): string
    {
        return $this->cookie;
    }
}
