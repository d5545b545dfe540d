<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Push;

use Firebase\JWT\JWT;
use Olivine\App\Collect\Credentials;
use Olivine\App\Platform\Repository\KeptSettingRepository;
use Olivine\App\Platform\Settings;
use Olivine\Core\Time\Instant;

/** The key by which push services know this instance (VAPID, RFC 8292): made once, kept sealed. */
final readonly class PushKeys
{
    private const KEPT_AS = 'push key';
    private const HOLDS_SECONDS = 43_200;

    public function __construct(private KeptSettingRepository $kept, private Credentials $seals, private Settings $settings)
    {
    }

    /** @return string as a browser is given it when it subscribes */
    public function public(): string
    {
        return self::text($this->key()->public);
    }

    /** @param string $origin of the push service: https://push.example */
    public function authorization(string $origin, Instant $now): string
    {
        $key = $this->key();
        $claims = ['aud' => $origin, 'exp' => intdiv($now->ms, 1_000) + self::HOLDS_SECONDS, 'sub' => "mailto:{$this->settings->mailFrom()}"];

        return 'vapid t=' . JWT::encode($claims, $key->private, 'ES256') . ', k=' . self::text($key->public);
    }

    public static function text(string $bytes): string
    {
        return rtrim(strtr(base64_encode($bytes), '+/', '-_'), '=');
    }

    /** @return string "" where it is none */
    public static function bytes(string $text): string
    {
        return (string) base64_decode(strtr($text, '-_', '+/'), true);
    }

    private function key(): EcKey
    {
        if ($this->kept->value(self::KEPT_AS) === null) {
            // Of two that make one at the same time, the first is everybody's.
            $this->kept->keepFirst(self::KEPT_AS, $this->seals->sealText(EcKey::made()->private));
        }

        return EcKey::ofPem($this->seals->openText((string) $this->kept->value(self::KEPT_AS)));
    }
}
