export { listSpots as spotsOf } from "../../data/spot/spots";
