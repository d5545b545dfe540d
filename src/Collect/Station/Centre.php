<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Station;

use Symfony\Component\HttpClient\CurlHttpClient;
use Symfony\Contracts\HttpClient\Exception\ExceptionInterface;
use Symfony\Contracts\HttpClient\ResponseInterface;

/** The centre as a station sees it: asked by one request after the other, waited for while checks are asked. */
final class Centre
{
    private const PATIENCE_SECONDS = 30.0;
    private readonly CurlHttpClient $client;
    private ?ResponseInterface $response = null;

    public function __construct(private readonly string $address, private string $key = '')
    {
        $this->client = new CurlHttpClient(['max_redirects' => 0, 'timeout' => self::PATIENCE_SECONDS, 'max_duration' => self::PATIENCE_SECONDS]);
    }

    /**
     * @return string the key that is shown from now on
     *
     * @throws StationFault with the centre's reason
     */
    public function join(#[\SensitiveParameter] string $token, string $name): string
    {
        try {
            $response = $this->client->request('POST', "{$this->address}/in/station/join", ['json' => ['token' => $token, 'name' => $name]]);
            $answer = $response->toArray(false);
        } catch (ExceptionInterface $error) {
            throw new StationFault("The centre at {$this->address} does not answer: {$error->getMessage()}");
        }
        if (!is_string($answer['key'] ?? null)) {
            throw new StationFault('The centre does not let it join: ' . (is_string($answer['title'] ?? null) ? $answer['title'] : 'it answers otherwise'));
        }

        return $this->key = $answer['key'];
    }

    public function isBusy(): bool
    {
        return $this->response !== null;
    }

    /** @param array<string, mixed> $body */
    public function ask(array $body): void
    {
        $this->response = $this->client->request('POST', "{$this->address}/in/station/cycle", [
            'auth_bearer' => $this->key,
            'headers' => ['Content-Type' => 'application/json', 'Content-Encoding' => 'gzip'],
            'body' => (string) gzencode(json_encode($body, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION), 3),
        ]);
    }

    /**
     * @return array<mixed>|null what it answered; null where nothing is there yet
     *
     * @throws StationFault why it did not
     */
    public function answer(): ?array
    {
        $response = $this->response;
        if ($response === null) {
            return null;
        }
        try {
            foreach ($this->client->stream($response, 0.0) as $chunk) {
                if ($chunk->isTimeout()) {
                    return null;
                }
                if ($chunk->isLast()) {
                    $this->response = null;
                    $answer = $response->toArray(false);
                    if ($response->getStatusCode() !== 200) {
                        throw new StationFault(is_string($answer['title'] ?? null) ? $answer['title'] : "it answers with status {$response->getStatusCode()}");
                    }

                    return $answer;
                }
            }
        } catch (ExceptionInterface $error) {
            $this->response = null;
            throw new StationFault($error->getMessage());
        }

        return null;
    }
}
