import { contentDigest, signRequest } from './sign-request';

describe('a signed request', () => {
  it('is signed as RFC 9421 §B.2.5 signs its example (from memory)', () => {
    const secret = Buffer.from(
      'uzvJfB4u3N0Jy4T7NZ75MDVcr8zSTInedJtkgcu46YW4XByzNJjxBdtjUkdJPBtbmHhIDi6pcl8jsasjlTMtDQ==',
      'base64',
    );
    expect(
      signRequest(
        'sig-b25',
        [
          ['date', 'Tue, 20 Apr 2021 02:07:55 GMT'],
          ['@authority', 'example.com'],
          ['content-type', 'application/json'],
        ],
        { keyId: 'test-shared-secret', secret, created: 1618884473 },
      ),
    ).toEqual({
      'signature-input': 'sig-b25=("date" "@authority" "content-type");created=1618884473;keyid="test-shared-secret"',
      signature: 'sig-b25=:pxcQw6G3AjtMBQjwo8XzkZf/bws5LelbaMk5rGIGtE8=:',
    });
  });
  it('digests a body as RFC 9530 does in its examples (appendix B; from memory)', () => {
    expect(contentDigest('{"hello": "world"}\n')).toBe('sha-256=:RK/0qy18MlBSVnWgjwz6lZEWjP/lF5HF9bvEF8FabDg=:');
  });
});
