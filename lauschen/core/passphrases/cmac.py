"""AES-128-CMAC (RFC 4493), which signs handshakes of key descriptor version 3. AES as in FIPS 197, one way only."""

BLOCK = 16
_ROUNDS = 10


def _double(value: int) -> int:
    """In GF(2^8) with the polynomial of AES."""
    value <<= 1
    return value ^ 0x11B if value & 0x100 else value


def _s_box() -> bytes:
    """FIPS 197, 5.1.1: the inverse in GF(2^8), then the affine transformation."""
    box, p, q = bytearray(256), 1, 1
    while True:
        p ^= _double(p)
        q ^= q << 1
        q ^= q << 2
        q ^= q << 4
        q &= 0xFF
        if q & 0x80:
            q ^= 0x09
        turned = q
        for shift in range(1, 5):
            turned ^= ((q << shift) | (q >> (8 - shift))) & 0xFF
        box[p] = turned ^ 0x63
        if p == 1:
            box[0] = 0x63
            return bytes(box)


_S = _s_box()
_S2 = bytes(_double(value) for value in _S)
_S3 = bytes(a ^ b for a, b in zip(_S, _S2, strict=True))
_SHIFTED = tuple((4 * column + row + 4 * row) % BLOCK for column in range(4) for row in range(4))
"""Where each octet comes from by ShiftRows, column by column."""


def expand(key: bytes) -> list[bytes]:
    """The round keys (FIPS 197, 5.2)."""
    words = [key[start : start + 4] for start in range(0, BLOCK, 4)]
    constant = 1
    for number in range(4, 4 * (_ROUNDS + 1)):
        word = words[-1]
        if number % 4 == 0:
            word = bytes([_S[word[1]] ^ constant, _S[word[2]], _S[word[3]], _S[word[0]]])
            constant = _double(constant)
        words.append(bytes(a ^ b for a, b in zip(words[-4], word, strict=True)))
    return [b"".join(words[start : start + 4]) for start in range(0, len(words), 4)]


def encrypt(rounds: list[bytes], block: bytes) -> bytes:
    """One block."""
    state = bytes(a ^ b for a, b in zip(block, rounds[0], strict=True))
    for round_key in rounds[1:-1]:
        moved = [state[place] for place in _SHIFTED]
        out = bytearray(BLOCK)
        for column in range(0, BLOCK, 4):
            a, b, c, d = moved[column : column + 4]
            out[column] = _S2[a] ^ _S3[b] ^ _S[c] ^ _S[d] ^ round_key[column]
            out[column + 1] = _S[a] ^ _S2[b] ^ _S3[c] ^ _S[d] ^ round_key[column + 1]
            out[column + 2] = _S[a] ^ _S[b] ^ _S2[c] ^ _S3[d] ^ round_key[column + 2]
            out[column + 3] = _S3[a] ^ _S[b] ^ _S[c] ^ _S2[d] ^ round_key[column + 3]
        state = bytes(out)
    return bytes(_S[state[place]] ^ last for place, last in zip(_SHIFTED, rounds[-1], strict=True))


def cmac(key: bytes, message: bytes) -> bytes:
    """16 octets (RFC 4493, 2.4)."""
    rounds = expand(key)
    first = _subkey(encrypt(rounds, bytes(BLOCK)))
    whole = len(message) > 0 and len(message) % BLOCK == 0
    cut = len(message) - BLOCK if whole else len(message) // BLOCK * BLOCK
    last = message[cut:] if whole else (message[cut:] + b"\x80").ljust(BLOCK, b"\0")
    mask = first if whole else _subkey(first)
    state = bytes(BLOCK)
    for start in range(0, cut, BLOCK):
        state = encrypt(rounds, _xor(state, message[start : start + BLOCK]))
    return encrypt(rounds, _xor(state, _xor(last, mask)))


def _subkey(block: bytes) -> bytes:
    value = int.from_bytes(block, "big") << 1
    return (value & (2**128 - 1) ^ (0x87 if value >> 128 else 0)).to_bytes(BLOCK, "big")


def _xor(a: bytes, b: bytes) -> bytes:
    return bytes(x ^ y for x, y in zip(a, b, strict=True))
