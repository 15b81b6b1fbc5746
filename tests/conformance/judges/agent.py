"""A host in a network namespace: answers on every service port, tries connections when told to, and keeps what it hears.

Reads one JSON object a line:
  {"tries": [{"id", "protocol", "address", "port"}]}  writes {"id": ..., "works": ...} for each, then {"done": true}
  {"send": [{"source", "address", "text"}]}           sends datagrams from addresses that need not be its own, then writes {"done": true}
  {"heard": true}                                     writes {"heard": [...]}: the texts that came to the port for them
  {"callers": true}                                   writes {"callers": [...]}: who connected over TCP since it was last asked
Arguments: the ports as JSON, the addresses to answer on as JSON (answers over UDP come from the one that was asked).
Standard library only.
"""
import asyncio, json, os, socket, struct, sys

PATIENCE_S = 1.2
TRIES = 2
HEARING_PORT = 9
IP_TRANSPARENT, IPV6_TRANSPARENT = 19, 75
heard, callers = [], []


def family_of(address):
    return socket.AF_INET6 if ':' in address else socket.AF_INET


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


class Hearing(asyncio.DatagramProtocol):
    def datagram_received(self, data, address):
        heard.append(data.decode())


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
        reader, writer = await asyncio.wait_for(asyncio.open_connection(address, port), PATIENCE_S * TRIES)
        try:
            # Whoever answers closes, and knows of it by then.
            await asyncio.wait_for(reader.read(1), PATIENCE_S)
        except (OSError, asyncio.TimeoutError):
            pass
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
    six = ':' in address
    raw = socket.socket(family_of(address), socket.SOCK_RAW, socket.IPPROTO_ICMPV6 if six else socket.IPPROTO_ICMP)
    raw.setblocking(False)
    own = (os.getpid() * 131 + number) & 0xFFFF
    packet = struct.pack('!BBHHH', 128 if six else 8, 0, 0, own, 1) + b'able mast ping  '
    if not six:
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
                    data, sender = await asyncio.wait_for(loop.sock_recvfrom(raw, 2048), end - loop.time())
                except asyncio.TimeoutError:
                    break
                start = 0 if six else (data[0] & 15) * 4
                kind, _, _, identity, _ = struct.unpack('!BBHHH', data[start:start + 8])
                if kind == (129 if six else 0) and identity == own and sender[0] == address:
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


def send(source, address, text):
    six = ':' in address
    with socket.socket(family_of(address), socket.SOCK_DGRAM) as s:
        s.setsockopt(socket.IPPROTO_IPV6 if six else socket.IPPROTO_IP, IPV6_TRANSPARENT if six else IP_TRANSPARENT, 1)
        s.bind((source, 0))
        try:
            s.sendto(text.encode(), (address, HEARING_PORT))
        except OSError:
            pass  # no way there at all


def answer(_, writer):
    peer = writer.get_extra_info('peername')
    if peer:
        callers.append(peer[0])
    writer.close()


async def main():
    loop = asyncio.get_running_loop()
    ports, addresses = json.loads(sys.argv[1]), json.loads(sys.argv[2])
    for address in addresses:
        for port in ports['tcp']:
            await asyncio.start_server(answer, address, port)
        for port in ports['udp']:
            await loop.create_datagram_endpoint(Echo, local_addr=(address, port))
        await loop.create_datagram_endpoint(Hearing, local_addr=(address, HEARING_PORT))
    reader = asyncio.StreamReader(limit=1 << 24)
    await loop.connect_read_pipe(lambda: asyncio.StreamReaderProtocol(reader), sys.stdin)
    print(json.dumps({'ready': True}), flush=True)
    while line := await reader.readline():
        asked = json.loads(line)
        await asyncio.gather(*(attempt(t, i) for i, t in enumerate(asked.get('tries', []))))
        for t in asked.get('send', []):
            send(t['source'], t['address'], t['text'])
        if 'callers' in asked:
            print(json.dumps({'callers': callers}), flush=True)
            callers.clear()
        elif 'heard' in asked:
            print(json.dumps({'heard': heard}), flush=True)
        else:
            print(json.dumps({'done': True}), flush=True)

asyncio.run(main())
