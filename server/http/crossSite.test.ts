import { expect, it } from 'vitest'
import { isCrossSite } from './crossSite'

it.each<[string, string, string | undefined, string | undefined, boolean]>([
  ['a page of ours', 'POST', 'http://mast.example:7350', 'same-origin', false],
  ['a program', 'POST', undefined, undefined, false],
  ['what a person typed', 'POST', undefined, 'none', false],
  ['a page of another host', 'POST', 'http://other.example', undefined, true],
  ['of another port', 'DELETE', 'http://mast.example:8080', undefined, true],
  ['of another name of the same site', 'PUT', undefined, 'same-site', true],
  ['a frame without an origin', 'POST', 'null', undefined, true],
  ['an origin that is none', 'POST', 'http://', undefined, true],
  ['a picture elsewhere that points here', 'GET', undefined, 'cross-site', true],
  ['what a page of ours reads', 'GET', undefined, 'same-origin', false],
  ['what a program reads', 'GET', undefined, undefined, false],
])('%s', (_, method, origin, fetchSite, refused) =>
  expect(isCrossSite(method, 'mast.example:7350', origin, fetchSite)).toBe(refused),
)
