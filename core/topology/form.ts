/** The form in which a frame is on a wire: its VLAN id, or `untagged`. */
export type Form = number | 'untagged'
