import type { NatBehaviour, PathTransport, ServerKind } from '../../core/estate';
import type { PacketKind } from '../../core/network';

export const SERVER_WORDS: Record<ServerKind, string> = {
  system: 'Phone system',
  'border-controller': 'Border controller',
  stun: 'STUN server',
  turn: 'TURN server',
  vpn: 'VPN server',
};
export const NAT_WORDS: Record<NatBehaviour, string> = {
  'endpoint-independent': 'Endpoint-independent',
  'address-dependent': 'Address-dependent',
  'address-and-port-dependent': 'Address- and port-dependent',
};
export const TRANSPORT_WORDS: Record<PathTransport, string> = { udp: 'UDP', tcp: 'TCP', tls: 'TLS' };
export const PACKET_WORDS: Record<PacketKind, string> = {
  REGISTER: 'REGISTER',
  answer: 'Answer',
  'keep-alive': 'Keep-alive',
  STUN: 'STUN question',
  'STUN answer': 'STUN answer',
  INVITE: 'INVITE',
  ACK: 'ACK',
  sound: 'Sound',
  check: 'Connectivity check',
  'check answer': 'Answer to the check',
  Allocate: 'Allocate',
  'Allocate answer': 'Answer to Allocate',
  tunnel: 'Tunnel packet',
};
