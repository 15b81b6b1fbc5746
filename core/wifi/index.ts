/** Wi-Fi: who is served, by what, at what speed. */
export { floorService, USUAL_CLIENT, type FloorService } from './coverage/floorService'
export { pointOf } from './coverage/place'
export { levelAt } from './coverage/levelAt'
export { levelsOf } from './coverage/levels'
export { gridOf, radiosOn, wallsOf } from './coverage/floorAir'
export { planPower, type PowerPlan } from './power/plan'
export { planChannels, settingsWith, type ChannelPlan } from './channels/plan'
export { channelsAnew } from './channels/anew'
export { quietestHour, type ClientHour } from './channels/quietest'
export { unsettledOf, unsettledWords } from './channels/unsettled'
export { proposePlaces, usualRadio, type Proposed } from './placing/floorPlacing'
export { fitFloor, type FloorFit } from './measured/floorFit'
export {
  alongTheWay,
  bestOutlets,
  marksDbm,
  MARKS_PERCENT,
  schools,
  standAt,
  withoutExtender,
  type ExtenderCase,
  type School,
} from './extenders/extending'
export { modeFacts } from './modes'
export { isLinkState, lampAdvice, type LinkState } from './extenders/lamp'
export { isRepeater } from './extenders/isRepeater'
export { repeatingOf } from './extenders/ofDevice'
