"""A host in a network namespace: answers on every service port, and tries connections when told to.

Reads one JSON object a line: {"tries": [{"id", "protocol", "address", "port"}]}; writes {"id": ..., "works": ...} for each, then {"done": true}.
Arguments: the ports as JSON, the address to answer on (answers over UDP come from it).
Standard library only.
"""
import asyncio, json, os, socket, struct, sys

PATIENCE_S = 1.2
TRIES = 2


def checksum(data):
    """RFC 1071."""
    total = sum(struct.unpack('!%dH' % (len(data) // 2), data))
    total = (total >> 16) + (total & 0xFFFF)
    return ~(total + (total >> 16)) & 0xFFFF


class Echo(asyncio.DatagramProtocol):
    def connection_made(self, transport):
        self.transport = transport

    def datagram_received(self, data, address):
        self.transport.sendto(data, address)


class Question(asyncio.DatagramProtocol):
    def __init__(self, answered):
        self.answered = answered

    def datagram_received(self, data, address):
        if not self.answered.done():
            self.answered.set_result(True)

    def error_received(self, error):
        pass


async def tcp(address, port):
    try:
        _, writer = await asyncio.wait_for(asyncio.open_connection(address, port), PATIENCE_S * TRIES)
        writer.close()
        return True
    except ConnectionRefusedError:
        return True
    except (OSError, asyncio.TimeoutError):
        return False


async def udp(address, port):
    loop = asyncio.get_running_loop()
    answered = loop.create_future()
    try:
        transport, _ = await loop.create_datagram_endpoint(lambda: Question(answered), remote_addr=(address, port))
    except OSError:
        return False
    try:
        for _ in range(TRIES):
            transport.sendto(b'?')
            try:
                return await asyncio.wait_for(asyncio.shield(answered), PATIENCE_S)
            except asyncio.TimeoutError:
                pass
        return False
    finally:
        transport.close()


async def ping(address, number):
    loop = asyncio.get_running_loop()
    raw = socket.socket(socket.AF_INET, socket.SOCK_RAW, socket.IPPROTO_ICMP)
    raw.setblocking(False)
    own = (os.getpid() * 131 + number) & 0xFFFF
    packet = struct.pack('!BBHHH', 8, 0, 0, own, 1) + b'able mast ping  '
    packet = packet[:2] + struct.pack('!H', checksum(packet)) + packet[4:]
    try:
        for _ in range(TRIES):
            try:
                raw.sendto(packet, (address, 0))
            except OSError:
                return False
            end = loop.time() + PATIENCE_S
            while loop.time() < end:
                try:
                    data = await asyncio.wait_for(loop.sock_recv(raw, 2048), end - loop.time())
                except asyncio.TimeoutError:
                    break
                start = (data[0] & 15) * 4
                kind, _, _, identity, _ = struct.unpack('!BBHHH', data[start:start + 8])
                if kind == 0 and identity == own and socket.inet_ntoa(data[12:16]) == address:
                    return True
        return False
    finally:
        raw.close()


async def attempt(t, number):
    if t['protocol'] == 'tcp':
        works = await tcp(t['address'], t['port'])
    elif t['protocol'] == 'udp':
        works = await udp(t['address'], t['port'])
    else:
        works = await ping(t['address'], number)
    print(json.dumps({'id': t['id'], 'works': works}), flush=True)


async def main():
    loop = asyncio.get_running_loop()
    ports = json.loads(sys.argv[1])
    for port in ports['tcp']:
        await asyncio.start_server(lambda r, w: w.close(), sys.argv[2], port)
    for port in ports['udp']:
        await loop.create_datagram_endpoint(Echo, local_addr=(sys.argv[2], port))
    reader = asyncio.StreamReader()
    await loop.connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), sys.stdin)
    print(json.dumps({'ready': True}), flush=True)
    while line := await reader.readline():
        await asyncio.gather(*(attempt(t, i) for i, t in enumerate(json.loads(line)['tries'])))
        print(json.dumps({'done': True}), flush=True)

asyncio.run(main())
