export { changeEstate, type Held } from './change';
export { objectFaults } from './check-object';
export { personFaults, placeFaults } from './check-person';
export {
  type EditableKind,
  orderObjects,
  putObject,
  readObject,
  removeObject,
  setDialling,
  setOrganisation,
  setPromises,
  setSettings,
} from './objects';
export { insertPeople, loadPerson, nextPosition, removePeople, updatePeople } from './people';
export {
  LISTS,
  OBJECT_KINDS,
  type ObjectKind,
  asOf,
  estateFile,
  estateOf,
  loadEstate,
  objectsOf,
  readRevision,
  replaceEstate,
  writeEstate,
} from './queries';
export {
  type StoredList,
  bringBackList,
  listVersions,
  loadRouting,
  readList,
  readLists,
  readTableBody,
  removeList,
  writeList,
  writeTableBody,
} from './routing';
export { type SliceThen, sliceThen } from './then';
export { type EstateStore, type LiveEstate, estateStore } from './store';
