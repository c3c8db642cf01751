export { type Difference, differences, isSame, toldDifferences } from './differences';
export {
  addRule,
  addStage,
  addTarget,
  begunRule,
  editRule,
  editWhen,
  moveRule,
  moveStage,
  NEW_RULE,
  onlyTreatment,
  placeOfSetting,
  putStage,
  removeRule,
  removeStage,
  removeTarget,
  setBusy,
  setEnding,
} from './edit-plan';
export {
  type TargetAt,
  type TargetPatch,
  type TreatmentAt,
  carefulTarget,
  changeTargets,
  changeTreatment,
  coverLines,
  coverOf,
  editEndpoint,
  editStageTime,
  editTarget,
  endCover,
  ringWithFirstStage,
  setForward,
  setMailbox,
  switchEndpoint,
  treatmentAt,
} from './edit';
export { type Finder, type SliceStart, finderIn, finderOf, finderWith, mergeSlices, sliceFor } from './slice';
export {
  type LeftOut,
  departures,
  fillTemplate,
  personOfTemplate,
  placeFor,
  placeOf,
  startFrom,
  startFromColleague,
  templatePlan,
} from './template';
export { changedAsMany, MANY_KINDS, nameOfMany, type ManyChange } from './many';
export {
  beginningPerson,
  newPerson,
  nextExtension,
  personIds,
  slug,
  type Beginning,
  type NewPerson,
} from './new-person';
export { addLine, editLine, removeLine, rulesOfLine, setMaxCalls, setName, setPermission } from './lines';
export {
  addPhone,
  movePhone,
  phoneId,
  planWithout,
  targetWithout,
  withoutEndpoint,
  withoutPhone,
  type NewPhone,
} from './phones';
export { begunEstate, emptyEstate, isUnbegun, prefixesOf, type OrganisationBeginning } from './beginning';
export { freeId, moved } from './lists';
export { addCase, isForEveryCall, moveCase } from './menus';
export { sayTemplateKind, TEMPLATE_KINDS, type TemplateKind, usualPlan } from './template-kinds';
